import { solvedEquations } from '../equations';
import type { Picture } from '../picture/picture';
import { type Similarity, within } from './frame';
import { layStraight } from './lay';
import type { FramedFace } from './restore';
import { smoothed } from './smoothed';

/** A face in a frame beside the one that is worked: its picture, and where it lies there, from the pixels of the straight frame. */
export interface FaceBeside {
  picture: Picture;
  at: Similarity;
}

/** What several frames say of a face. */
export interface Gathered {
  face: FramedFace;
  /** What is left of the noise of one frame, 0 to 1. */
  left: number;
}

/** Steps by which a face is brought to lie on another, and the deviation that both are smoothed by for it, in pixels of the straight frame. */
const STEPS = 3,
  SMOOTH = 1.5;
/** Pixels of the straight frame within which two faces lie near enough to one another. */
const NEAR = 0.05;
/** Smoothing of the differences that tell whether a place shows the same, and how much of single noise that leaves. */
const ALIKE_SMOOTH = 1.5,
  NOISE_LEFT = 0.19;
/** Codes of 255 that places may differ by beside their noise, and deviations of that. */
const ALIKE = 2.5,
  DEVIATIONS = 2;
/** Part of the frame, from its middle, that faces are laid on one another by. */
const CENTRE = 0.36;

/**
 * A face as the frames round it show it: those beside are laid on it, and each place takes the mean of those that show the same there, so that blinks
 * and mouths stay what they are.
 *
 * @param noise deviation of a frame's noise in codes of 255.
 */
export function gathered(face: FramedFace, beside: readonly FaceBeside[], noise: number): Gathered {
  const { side, planes } = face;
  const own = smoothed(planes[0], side, SMOOTH);
  const sums = planes.map((plane) => plane.slice());
  const weights = new Float32Array(side * side).fill(1),
    squares = new Float32Array(side * side).fill(1);
  const bound = (ALIKE + DEVIATIONS * Math.SQRT2 * NOISE_LEFT * noise) / 255;
  for (const other of beside) {
    const straight = laidOn(own, other, side);
    const offset = meanApart(planes[0], straight.planes[0], side);
    const off = smoothed(
      straight.planes[0].map((v, i) => v + offset - planes[0][i]),
      side,
      ALIKE_SMOOTH,
    );
    for (let i = 0; i < weights.length; i++) {
      const weight = Math.exp(-((off[i] / bound) ** 2));
      weights[i] += weight;
      squares[i] += weight * weight;
      sums[0][i] += weight * (straight.planes[0][i] + offset);
      for (const c of [1, 2]) sums[c][i] += weight * straight.planes[c][i];
    }
  }
  let left = 0;
  for (let i = 0; i < weights.length; i++) left += Math.sqrt(squares[i]) / weights[i];
  return {
    face: { side, planes: sums.map((sum) => sum.map((v, i) => v / weights[i])) as FramedFace['planes'] },
    left: left / weights.length,
  };
}

const inCentre = (side: number, x: number, y: number): boolean => Math.hypot(x + 0.5 - side / 2, y + 0.5 - side / 2) < CENTRE * side;

/** How much darker the middle of a face is than that of another: frames flicker. */
function meanApart(own: Float32Array, other: Float32Array, side: number): number {
  let sum = 0,
    count = 0;
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++)
      if (inCentre(side, x, y)) {
        sum += own[y * side + x] - other[y * side + x];
        count++;
      }
  return sum / count;
}

/**
 * A face beside laid straight so that it lies on the one that is worked: its mesh says where, and what is left between both is taken off by moving,
 * turning and scaling it along the slopes of both (Lucas and Kanade, 1981).
 */
function laidOn(own: Float32Array, { picture, at }: FaceBeside, side: number): FramedFace {
  const luma = { ...picture, planes: picture.planes.slice(0, 1) };
  let moved: Similarity = { a: 1, b: 0, x: 0, y: 0 };
  for (let step = 0; step < STEPS; step++) {
    const [straight] = layStraight(luma, within(at, moved), side).planes;
    const change = changeTo(own, smoothed(straight, side, SMOOTH), side);
    moved = within(moved, change);
    if (Math.hypot(change.x, change.y) + side * Math.hypot(change.a - 1, change.b) < NEAR) break;
  }
  return layStraight(picture, within(at, moved), side);
}

/** The similarity by which a plane, taken from there, comes nearer to another one (Lucas and Kanade, 1981). */
export function changeTo(own: Float32Array, other: Float32Array, side: number): Similarity {
  // Unknown are the move across and down, the growth and the turn about the middle, and how much lighter one is.
  const size = 5;
  const sums = new Float64Array(size * (size + 1)),
    row = new Float64Array(size + 1);
  const half = side / 2;
  for (let y = 1; y < side - 1; y++)
    for (let x = 1; x < side - 1; x++) {
      if (!inCentre(side, x, y)) continue;
      const i = y * side + x;
      const gx = (own[i + 1] - own[i - 1] + other[i + 1] - other[i - 1]) / 4,
        gy = (own[i + side] - own[i - side] + other[i + side] - other[i - side]) / 4;
      const u = (x + 0.5 - half) / half,
        v = (y + 0.5 - half) / half;
      row[0] = gx;
      row[1] = gy;
      row[2] = gx * u + gy * v;
      row[3] = gy * u - gx * v;
      row[4] = 1;
      row[5] = own[i] - other[i];
      for (let a = 0; a < size; a++) for (let b = 0; b <= size; b++) sums[a * (size + 1) + b] += row[a] * row[b];
    }
  const found = solvedEquations(Array.from({ length: size }, (_, n) => Array.from(sums.subarray(n * (size + 1), (n + 1) * (size + 1)))));
  const [mx, my, growth, turn] = [found[0], found[1], found[2] / half, found[3] / half];
  // About the frame's middle.
  const a = 1 + growth;
  return { a, b: turn, x: mx + half - a * half + turn * half, y: my + half - turn * half - a * half };
}
