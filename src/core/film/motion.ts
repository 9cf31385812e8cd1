import { estimateMotions, type Lines } from '../kernels/motion';
import type { MotionOptions } from '../kernels/reference/motion';
import type { Picture, Plane } from '../picture/picture';
import { reducedPlane } from '../picture/reduced';
import { refined } from './refine';

/**
 * How a film moves: for every frame where each place of a small raster lies in the frame before, and where those of the frame before lie in it.
 * What is marked in one frame, or known of it, is carried to others by this, both ways.
 */
export interface FilmMotion {
  /** Of the frames it is of. */
  width: number;
  height: number;
  frames: number;
  columns: number;
  rows: number;
  /** Pixels of the frame that a step of a vector is, and that a place of the raster is wide and high. */
  unit: number;
  span: number;
  /** Frames by which a shot begins, rising; the first is 0. */
  shots: number[];
  /** Vectors from each frame to the one before it, x and y of each place, row by row, in steps; noughts at a shot's first. */
  back: Int8Array;
  /** Vectors from the frame before it to each frame, at the same places. */
  forth: Int8Array;
}

/** Longest side of the frames that motion is looked for in. */
const LONGEST = 192;
/** Side of a block there, which is one place of the raster. */
const BLOCK = 8;
/** Steps of a vector to one sample there. */
const STEPS = 8;
const SEARCH: MotionOptions = { blockWidth: BLOCK, blockHeight: BLOCK, reachX: 7, reachY: 5, penalty: 2 };

/** Codes of 255 that a block must deviate by to have a say in whether a shot ends. */
const TEXTURED = 3;
/** A block is not foretold where what is left of it along motion is more than this part of its own deviation. */
const FORETOLD = 0.75;
/** Shares of the blocks not foretold by which a shot ends: whatever the histograms say, and where they differ by `JUMP` too. */
const SURELY_CUT = 0.65,
  PERHAPS_CUT = 0.4,
  JUMP = 0.3;
/** Share of textured blocks below which lightness alone decides, and codes of it. */
const FEW = 0.05,
  LIGHT_JUMP = 24;
/** Correlation of two frames from which no shot ends between them, however much dust, scratches and flicker keep them apart. */
const LIKE = 0.6;
/** How much flicker may change the contrast. */
const MOST_GAIN = 1.5;
const BINS = 32;

/** A frame as motion is looked for in it. */
export interface Reduced {
  plane: Plane;
  /** Pixels of the frame to a sample. */
  by: number;
}

/** @param picture a whole frame. */
export function reducedFrame(picture: Picture): Reduced {
  const { width, height } = picture.info;
  const by = Math.ceil(Math.max(width, height) / LONGEST);
  const [w, h] = [width, height].map((side) => Math.max(1, Math.floor(side / by)));
  return { by, plane: { width: w, height: h, data: Uint16Array.from(reducedPlane(picture, 0, by, w, h)) } };
}

/** The raster of a film's motion. @param reduced any of its frames. */
export function motionRaster({ plane, by }: Reduced): Pick<FilmMotion, 'columns' | 'rows' | 'unit' | 'span'> {
  return { columns: Math.ceil(plane.width / BLOCK), rows: Math.ceil(plane.height / BLOCK), unit: by / STEPS, span: by * BLOCK };
}

/** Vectors between two frames that follow one another, and whether a shot begins with the second. */
export interface PairMotion {
  back: Int8Array;
  forth: Int8Array;
  cut: boolean;
}

/** @param now of the size of `before`. */
export function pairMotion(before: Reduced, now: Reduced): PairMotion {
  const former = asLight(before.plane, now.plane);
  const back = wayOf(now.plane, former);
  const cut = endsShot(before.plane, now.plane, back.left) && likeness(before.plane, now.plane) < LIKE;
  const none = (): Int8Array => new Int8Array(back.vectors.length);
  return cut
    ? { back: none(), forth: none(), cut }
    : { back: inSteps(back.vectors), forth: inSteps(wayOf(former, now.plane).vectors), cut };
}

/** Mean of a plane, and how far its samples deviate. */
function lightOf({ data }: Plane): { mean: number; deviation: number } {
  let sum = 0,
    squares = 0;
  for (const v of data) {
    sum += v;
    squares += v * v;
  }
  const mean = sum / data.length;
  return { mean, deviation: Math.sqrt(Math.max(0, squares / data.length - mean * mean)) };
}

/** A plane as light and as contrasty as another: films flicker, and what flickers has not moved. */
function asLight(plane: Plane, other: Plane): Plane {
  const [own, wanted] = [plane, other].map(lightOf);
  const gain = own.deviation > 0 ? Math.min(MOST_GAIN, Math.max(1 / MOST_GAIN, wanted.deviation / own.deviation)) : 1;
  return { ...plane, data: plane.data.map((v) => Math.min(65535, Math.max(0, Math.round((v - own.mean) * gain + wanted.mean)))) };
}

/** Correlation of two planes of one size. */
function likeness(one: Plane, other: Plane): number {
  const [a, b] = [one, other].map(lightOf);
  if (a.deviation === 0 || b.deviation === 0) return 0;
  let sum = 0;
  for (let i = 0; i < one.data.length; i++) sum += (one.data[i] - a.mean) * (other.data[i] - b.mean);
  return sum / one.data.length / (a.deviation * b.deviation);
}

const inSteps = (vectors: Float32Array): Int8Array => Int8Array.from(vectors, (v) => Math.round(Math.min(127, Math.max(-127, v * STEPS))));

/** Where the blocks of a plane lie in another, in samples, and how much of each is not foretold by it (against its own deviation; NaN where it is plain). */
function wayOf(plane: Plane, other: Plane): { vectors: Float32Array; left: Float32Array } {
  const lines = (p: Plane): Lines => ({ plane: p, first: 0, step: 1 });
  const [found] = estimateMotions(lines(plane), [lines(other)], SEARCH);
  const vectors = refined(plane, other, { ...found, block: BLOCK });
  return { vectors, left: leftOver(plane, other, { ...found, vectors }) };
}

interface Field {
  columns: number;
  rows: number;
  vectors: Float32Array;
}

function leftOver(plane: Plane, other: Plane, { columns, rows, vectors }: Field): Float32Array {
  const { width, height, data } = plane;
  const left = new Float32Array(columns * rows);
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const i = row * columns + column;
      const [dx, dy] = [Math.round(vectors[2 * i]), Math.round(vectors[2 * i + 1])];
      const right = Math.min(width, (column + 1) * BLOCK),
        bottom = Math.min(height, (row + 1) * BLOCK);
      let sum = 0,
        count = 0;
      for (let y = row * BLOCK; y < bottom; y++) for (let x = column * BLOCK; x < right; x++, count++) sum += data[y * width + x];
      const mean = sum / count;
      let off = 0,
        own = 0;
      for (let y = row * BLOCK; y < bottom; y++)
        for (let x = column * BLOCK; x < right; x++) {
          const u = Math.min(width - 1, Math.max(0, x + dx)),
            v = Math.min(height - 1, Math.max(0, y + dy));
          own += Math.abs(data[y * width + x] - mean);
          off += Math.abs(data[y * width + x] - other.data[v * width + u]);
        }
      left[i] = own / count / 257 > TEXTURED ? off / own : NaN;
    }
  return left;
}

/** Whether what is in the second frame does not go on from the first. */
function endsShot(before: Plane, now: Plane, left: Float32Array): boolean {
  const judged = left.filter((v) => !Number.isNaN(v));
  const [a, b] = [before, now].map(histogram);
  if (judged.length < FEW * left.length) return Math.abs(a.mean - b.mean) > LIGHT_JUMP;
  const share = judged.filter((v) => v > FORETOLD).length / judged.length;
  const jump = a.shares.reduce((sum, v, i) => sum + Math.abs(v - b.shares[i]), 0) / 2;
  return share > SURELY_CUT || (share > PERHAPS_CUT && jump > JUMP);
}

function histogram({ data }: Plane): { shares: Float64Array; mean: number } {
  const shares = new Float64Array(BINS);
  let sum = 0;
  for (const v of data) {
    shares[(v * BINS) >> 16] += 1 / data.length;
    sum += v;
  }
  return { shares, mean: sum / data.length / 257 };
}

/** First and last frame of the shot that a frame is in. */
export function shotOf({ shots, frames }: Pick<FilmMotion, 'shots' | 'frames'>, frame: number): { first: number; last: number } {
  let n = shots.length - 1;
  while (n > 0 && shots[n] > frame) n--;
  return { first: shots[n], last: (shots[n + 1] ?? frames) - 1 };
}
