import { smoothedBroadly } from '../smoothed';

/**
 * How far a reference may be off the face in what the source's pixels can say, against how much the face itself varies there: up to the first it agrees, from
 * the second on it does not. In all, and place by place. (Pictures of one person are off by 0.02 to 0.19, those of two by 0.20 and more.)
 */
const OFF_IN_ALL = [0.19, 0.23],
  OFF_HERE = [0.22, 0.4];
/** Share of the face, where both are nearest, that is judged in all; the Gaussian, in parts of the frame, of what is compared. */
const LEAST = 0.85,
  SEEN_OVER = 0.022;
/** The Gaussians, in parts of the frame, over which a place is judged and beside which it varies; the part that is judged in all; noise, over 1. */
const JUDGED_OVER = 0.07,
  VARIES_OVER = 0.08,
  JUDGED = { x: 0.3, y: 0.38, middle: 0.53 },
  NOISE = 2 / 255;

/** 1 up to the first of two values, 0 from the second on. */
function falling(v: number, [from, to]: readonly number[]): number {
  const t = Math.min(1, Math.max(0, (to - v) / (to - from)));
  return t * t * (3 - 2 * t);
}

/** How far a reference agrees with a face in what its pixels can say. */
export function agreement(lit: Float32Array, own: Float32Array, side: number, smooth: number): { here: Float32Array; agrees: number } {
  const sigma = Math.max(smooth, SEEN_OVER * side);
  const seen = smoothedBroadly(own, side, sigma),
    broad = smoothedBroadly(own, side, VARIES_OVER * side);
  const apart = smoothedBroadly(
    lit.map((v, i) => v - own[i]),
    side,
    sigma,
  );
  const off = apart.map((v) => v * v),
    varies = seen.map((v, i) => (v - broad[i]) ** 2);
  const judged = off
    .map((_, i) => i)
    .filter((i) => Math.hypot(((i % side) / side - 0.5) / JUDGED.x, (Math.floor(i / side) / side - JUDGED.middle) / JUDGED.y) < 1);
  const offHere = smoothedBroadly(off, side, JUDGED_OVER * side),
    variesHere = smoothedBroadly(varies, side, JUDGED_OVER * side);
  const all = least(judged, off) / (least(judged, varies) + 1e-9);
  return {
    here: offHere.map((v, i) => falling(Math.sqrt(v / (variesHere[i] + NOISE ** 2)), OFF_HERE)),
    agrees: falling(Math.sqrt(all), OFF_IN_ALL),
  };
}

/** Mean of the least of some values: scratches and highlights, which one picture has and the other has not, are no other person. */
function least(places: Float32Array, of: Float32Array): number {
  const sorted = Float32Array.from(places, (i) => of[i])
    .sort()
    .subarray(0, Math.ceil(LEAST * places.length));
  return sorted.reduce((sum, v) => sum + v, 0) / sorted.length;
}
