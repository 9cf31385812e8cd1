import { meansWithin } from '../fill/means';

/** Units a stop is counted in: whole numbers add up to the same sum in whatever order, so that any part gives what the whole gives. */
const UNIT = 1024;
/** Variance, in stops, from which on a step in lightness is an edge of the large forms and not texture. */
const EDGE = 0.12;
/** Units of the weights between 0 and 1. */
const SHARE = 1 << 15;

/** Pixels round a part that `aroundOf` needs for radius `radius`. */
export const aroundBorder = (radius: number): number => 2 * radius;

/** Radius in pixels of what counts as small forms in a frame. */
export const formRadius = ({ width, height }: { width: number; height: number }): number =>
  Math.max(2, Math.round(0.012 * Math.max(width, height)));

/**
 * The large forms of a plane of stops: its texture averaged away within `radius`, its edges kept (guided filter by itself, He, Sun and Tang, 2010).
 */
export function aroundOf(stops: Float32Array, width: number, height: number, radius: number): Float32Array {
  const mean = (plane: ArrayLike<number>): Float32Array => meansWithin(plane, undefined, width, height, radius);
  const whole = Int32Array.from(stops, (v) => Math.round(v * UNIT));
  const squares = new Float64Array(stops.length);
  for (let i = 0; i < squares.length; i++) squares[i] = whole[i] * whole[i];
  const means = mean(whole),
    meanSquares = mean(squares);
  const slopes = new Int32Array(stops.length),
    levels = new Int32Array(stops.length);
  for (let i = 0; i < stops.length; i++) {
    const variance = Math.max(0, meanSquares[i] - means[i] * means[i]) / (UNIT * UNIT);
    const slope = variance / (variance + EDGE);
    slopes[i] = Math.round(slope * SHARE);
    levels[i] = Math.round((1 - slope) * means[i]);
  }
  const slope = mean(slopes),
    level = mean(levels);
  const out = new Float32Array(stops.length);
  for (let i = 0; i < out.length; i++) out[i] = (slope[i] / SHARE) * stops[i] + level[i] / UNIT;
  return out;
}
