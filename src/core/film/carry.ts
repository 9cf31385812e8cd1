import { type FilmMotion, shotOf } from './motion';

/** Places of a frame, in pixels of the film's frames. */
export interface Places {
  x: Float32Array;
  y: Float32Array;
}

/** Places that were carried. */
export interface Carried extends Places {
  /** How surely each is still the place that it was, 0 to 1. */
  sure: Float32Array;
}

/** Steps of a vector by which going on and coming back may miss one another before the place is half in doubt. */
const MISSED = 10;
/** Pixels beyond the frame's border at which a place has left it, as a part of its side. */
const GONE = 0.02;

/**
 * Where places of a frame lie in another of the same shot, from frame to frame along motion. A place is in doubt where going on and coming back do
 * not meet, and lost where it leaves the frame.
 *
 * @returns the places in their order; undefined where the two frames belong to different shots, over which nothing is carried.
 */
export function carryPlaces(motion: FilmMotion, from: number, to: number, places: Places): Carried | undefined {
  const { first, last } = shotOf(motion, from);
  if (to < first || to > last) return undefined;
  const carried = { x: places.x.slice(), y: places.y.slice(), sure: new Float32Array(places.x.length).fill(1) };
  const step = Math.sign(to - from);
  // The pair of frames n and n + 1 is kept with the later of them.
  for (let n = from; n !== to; n += step) goOn(motion, step > 0 ? n + 1 : n, step > 0, carried);
  return carried;
}

function goOn(motion: FilmMotion, pair: number, forwards: boolean, { x, y, sure }: Carried): void {
  const { width, height, unit } = motion;
  const [there, back] = forwards ? [motion.forth, motion.back] : [motion.back, motion.forth];
  const go = vectorsOf(motion, there, pair),
    comeBack = vectorsOf(motion, back, pair);
  const way = new Float32Array(2),
    home = new Float32Array(2);
  const left = -GONE * width,
    right = (1 + GONE) * width,
    top = -GONE * height,
    bottom = (1 + GONE) * height;
  for (let i = 0; i < x.length; i++) {
    go(x[i], y[i], way);
    x[i] += way[0];
    y[i] += way[1];
    comeBack(x[i], y[i], home);
    const missed = Math.hypot(way[0] + home[0], way[1] + home[1]) / (unit * MISSED);
    sure[i] *= 1 / (1 + missed ** 4);
    if (x[i] < left || y[i] < top || x[i] > right || y[i] > bottom) sure[i] = 0;
  }
}

/** Reads the vectors of a pair between the places of the raster, in pixels of the frame, into `out`; beyond its edge they go on. */
function vectorsOf(
  { columns, rows, unit, span }: FilmMotion,
  vectors: Int8Array,
  pair: number,
): (x: number, y: number, out: Float32Array) => void {
  const start = 2 * pair * rows * columns;
  return (x, y, out) => {
    const u = Math.min(columns - 1, Math.max(0, x / span - 0.5)),
      v = Math.min(rows - 1, Math.max(0, y / span - 0.5));
    const left = Math.floor(u),
      top = Math.floor(v);
    const a = u - left,
      b = v - top;
    const here = start + 2 * (top * columns + left),
      beside = left < columns - 1 ? 2 : 0,
      below = top < rows - 1 ? 2 * columns : 0;
    for (let axis = 0; axis < 2; axis++) {
      const i = here + axis;
      out[axis] =
        unit *
        ((vectors[i] * (1 - a) + vectors[i + beside] * a) * (1 - b) + (vectors[i + below] * (1 - a) + vectors[i + below + beside] * a) * b);
    }
  };
}
