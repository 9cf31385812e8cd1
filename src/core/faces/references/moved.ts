import { type Similarity, moved, within } from '../frame';
import { changeTo } from '../gathered';
import { smoothed, smoothedBroadly } from '../smoothed';
import type { Move } from './places';

/** Steps by which all of a reference is brought to lie on the face first, and the Gaussian of what is compared for it, in parts of the frame. */
const WHOLE_STEPS = 4,
  BROAD = 0.035;
/** Steps by which each place of it is, the windows they are found in and how far they may lead in all, in parts of the frame. */
const STEPS = 4,
  WINDOW = 0.06,
  FURTHEST = 0.05;
/** The slope, over 1, under which a place says little of where it belongs. */
const FLAT = 0.008;

/** A reference, laid where its places and a move tell, in a face's light. */
export type Layer = (move: Move) => Float32Array;

/**
 * The move that brings a reference nearest to a face.
 * @param sigma smoothing, in pixels, of what is compared. @param shown the reference, moved so, in the face's light.
 */
export function refined(own: Float32Array, side: number, sigma: number, shown: Layer): Move {
  const start = asWhole(own, side, shown);
  const move = { x: start.x.slice(), y: start.y.slice() };
  const still = smoothed(own, side, sigma);
  const most = FURTHEST * side;
  const near = (v: number, to: number): number => Math.min(to + most, Math.max(to - most, v));
  for (let step = 0; step < STEPS; step++) {
    const other = smoothed(shown(move), side, sigma);
    const xx = new Float32Array(side * side),
      xy = xx.slice(),
      yy = xx.slice(),
      xt = xx.slice(),
      yt = xx.slice();
    for (let y = 1; y < side - 1; y++)
      for (let x = 1; x < side - 1; x++) {
        const i = y * side + x;
        const gx = (still[i + 1] - still[i - 1] + other[i + 1] - other[i - 1]) / 4,
          gy = (still[i + side] - still[i - side] + other[i + side] - other[i - side]) / 4,
          off = still[i] - other[i];
        xx[i] = gx * gx;
        xy[i] = gx * gy;
        yy[i] = gy * gy;
        xt[i] = gx * off;
        yt[i] = gy * off;
      }
    const [a, b, c, u, v] = [xx, xy, yy, xt, yt].map((plane) => smoothedBroadly(plane, side, WINDOW * side));
    for (let i = 0; i < own.length; i++) {
      const ai = a[i] + FLAT ** 2,
        ci = c[i] + FLAT ** 2;
      const det = ai * ci - b[i] * b[i];
      move.x[i] = near(move.x[i] + (ci * u[i] - b[i] * v[i]) / det, start.x[i]);
      move.y[i] = near(move.y[i] + (ai * v[i] - b[i] * u[i]) / det, start.y[i]);
    }
  }
  return move;
}

/** The move, turn and growth of all of a reference that brings it nearest to a face, by what is broad in both. */
function asWhole(own: Float32Array, side: number, shown: Layer): Move {
  let by: Similarity = { a: 1, b: 0, x: 0, y: 0 };
  const still = smoothedBroadly(own, side, BROAD * side);
  for (let step = 0; step < WHOLE_STEPS; step++)
    by = within(by, changeTo(still, smoothedBroadly(shown(moveOf(by, side)), side, BROAD * side), side));
  return moveOf(by, side);
}

function moveOf(by: Similarity, side: number): Move {
  const out = { x: new Float32Array(side * side), y: new Float32Array(side * side) };
  const spot = new Float64Array(2);
  for (let i = 0; i < side * side; i++) {
    const x = (i % side) + 0.5,
      y = Math.floor(i / side) + 0.5;
    moved(by, x, y, spot, 0);
    out.x[i] = spot[0] - x;
    out.y[i] = spot[1] - y;
  }
  return out;
}
