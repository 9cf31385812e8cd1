/** From 0 before `from` to 1 after `to`, smoothly. */
export const ramp = (v: number, from: number, to: number): number => {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
};

/** A bell of height 1 about 0. */
export const gauss = (v: number, s: number): number => Math.exp(-(v * v) / (2 * s * s));
