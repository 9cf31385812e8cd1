/**
 * Classes of colour that the network weighs: points of a square raster over Cb and Cr of BT.601 in codes of 255, grey in the middle. Keeping what may be
 * apart instead of its mean is of Zhang, Isola and Efros (2016).
 */
const SPACING = 12,
  RADIUS = 7;

export interface Chroma {
  /** Codes of 255, 0 for grey. */
  cb: number;
  cr: number;
}

const STEPS = Array.from({ length: 2 * RADIUS + 1 }, (_, i) => i - RADIUS);

/** In the order of the network's answers; `training/colourSamples.py` has the same. */
export const CLASSES: readonly Chroma[] = STEPS.flatMap((b) =>
  STEPS.filter((r) => b * b + r * r <= RADIUS * RADIUS).map((r) => ({ cb: b * SPACING, cr: r * SPACING })),
);

/** Which of the colours that may be is taken. */
export type Leaning = 'likely' | 'warm' | 'cool';

/** Natural logarithm by which a class counts more for each code that it is warmer. */
const LEANS: Record<Leaning, number> = { likely: 0, warm: 0.025, cool: -0.025 };

const CBS = Float64Array.from(CLASSES, ({ cb }) => cb),
  CRS = Float64Array.from(CLASSES, ({ cr }) => cr);
const tilts = Object.fromEntries(
  Object.entries(LEANS).map(([leaning, lean]) => [
    leaning,
    Float64Array.from(CLASSES, ({ cb, cr }) => Math.exp((lean * (cr - cb)) / Math.SQRT2)),
  ]),
) as Record<Leaning, Float64Array>;

/** The colour taken of likelihoods, one for each class, that add up to 1. */
export function chosen(likely: ArrayLike<number>, leaning: Leaning): Chroma {
  const tilt = tilts[leaning];
  let cb = 0,
    cr = 0,
    all = 0;
  for (let k = 0; k < tilt.length; k++) {
    // Sharper, for the mean of all that may be is grey.
    const weight = tilt[k] * likely[k] * likely[k];
    cb += weight * CBS[k];
    cr += weight * CRS[k];
    all += weight;
  }
  return { cb: cb / all, cr: cr / all };
}

/** How far apart the colours lie that may be: deviation in codes of 255. */
export function doubtOf(likely: ArrayLike<number>): number {
  let cb = 0,
    cr = 0,
    squares = 0;
  for (let k = 0; k < CBS.length; k++) {
    const b = likely[k] * CBS[k],
      r = likely[k] * CRS[k];
    cb += b;
    cr += r;
    squares += b * CBS[k] + r * CRS[k];
  }
  return Math.sqrt(Math.max(0, squares - cb * cb - cr * cr));
}
