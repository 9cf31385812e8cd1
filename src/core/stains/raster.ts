import { depths } from '../fill/hole';

/** R', G' and B' (or grey alone) of a part of a picture, 0 to 255, and what of it counts. */
export interface Surface {
  width: number;
  height: number;
  /** One plane each. */
  colours: Float32Array[];
}

/** How deep each pixel lies in a stain, and 1 where it may be compared with what lies outside. */
export interface Comparable {
  depth: Float32Array;
  counts: Uint8Array;
}

/** How each pixel of a stain lies apart from the nearest outside, in logarithms of one colour's light. */
export interface Compared extends Comparable {
  width: number;
  height: number;
  /** 1 in the stain. */
  inside: Uint8Array;
  apart: Float32Array;
}

/** Pixels from the border of a shape: above nought inside, below it outside. */
export function signedDepth(inside: Uint8Array, width: number, height: number): Float32Array {
  const within = depths(inside, width, height),
    without = depths(
      inside.map((v) => 1 - v),
      width,
      height,
    );
  return new Float32Array(width * height).map((_, i) => (inside[i] ? within[i] / 3 - 0.5 : 0.5 - without[i] / 3));
}

/** Values in three taps of a binomial, ends repeated. */
export const smoothed = (values: readonly number[]): number[] =>
  values.map((v, n) => (values[Math.max(0, n - 1)] + 2 * v + values[Math.min(values.length - 1, n + 1)]) / 4);
