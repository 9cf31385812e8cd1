import type { LaidPicture } from '../picture/laid';
import { invert, type Similarity, moved, within } from './frame';
import { changeTo } from './gathered';
import type { KnownFace } from './guard';
import { cubicAt } from './lay';
import { frameOf, type Mesh } from './mesh';
import { ovalMask } from './oval';
import { smoothed, smoothedBroadly } from './smoothed';

/** A face that others are restored by: a picture, and its mesh in that picture's pixels. */
export interface ReferenceFace {
  picture: LaidPicture;
  mesh: Mesh;
}

/** Pixels between the places whose move is found, and the Gaussian, in parts of the frame, over which the mesh's points say it together. */
const GRID = 4,
  POINTS_OVER = 0.04;
/** Deviations of the Gaussians that tell the light of a face, and how strong its forms are, in parts of the frame (`training/referenceSamples.py`). */
const LIGHT = 0.04,
  AROUND = 0.1;
/** How much stronger or weaker forms may be, and what counts as none, over 1. */
const STRENGTH = { least: 0.5, most: 2 },
  NO_FORM = 2 / 255;
/** Part of the frame over which a reference fades out at the mesh's outline. */
const FADE = 0.06;
/** Steps by which all of a reference is brought to lie on the face first, and the Gaussian of what is compared for it, in parts of the frame. */
const WHOLE_STEPS = 4,
  BROAD = 0.035;
/** Steps by which each place of it is, the windows they are found in and how far they may lead in all, in parts of the frame. */
const STEPS = 4,
  WINDOW = 0.06,
  FURTHEST = 0.05;
/** Smoothing, in pixels, of what is compared for it, and the slope, over 1, under which a place says little of where it belongs. */
const SMOOTH = 1.5,
  FLAT = 0.008;

/** What a reference says of a face. */
export interface LaidReference {
  /** Luma, 0 to 1: where it says nothing, the face's own. */
  luma: Float32Array;
  /** How far it agrees with what the face shows, 0 to 1; of 0 it is taken for somebody else. */
  agrees: number;
}

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

/**
 * The luma of another picture of a person, laid on a face by both meshes and by the slopes of both (Lucas and Kanade, 1981, window by window), in the light
 * and with the strength of forms that the face has. It counts only as far as it agrees with what the face shows, and not beyond the mesh.
 *
 * @param own luma of the face laid straight, 0 to 1. @param outline its mesh in parts of the frame, or an oval where it has none.
 * @param ratio pixels of the frame for one of the source.
 */
export function referenceFor(
  own: Float32Array,
  side: number,
  outline: Mesh,
  ratio: number,
  { picture, mesh }: ReferenceFace,
): LaidReference {
  const straight = frameOf(mesh, 1);
  // Over a face that is too poor for a mesh lies the reference's own.
  const points = outline.length === mesh.length ? outline : straightened(mesh, straight);
  const reduction = Math.hypot(straight.a, straight.b) / side;
  const luma = reducedLuma(picture, Math.max(1, Math.round(reduction)));
  const places = placesBetween(points, side, mesh, straight);
  const shown = (move: Move): Float32Array => sampled(luma, places, side, move);
  const move = refined(own, side, ratio, (by) => inLight(shown(by), own, side));
  const lit = inLight(shown(move), own, side);
  const mask = ovalMask(outline, side, FADE);
  const { here, agrees } = agreement(lit, own, side, ratio);
  return { luma: lit.map((v, i) => own[i] + mask[i] * here[i] * agrees * (v - own[i])), agrees };
}

/** A mesh in parts of the frame that it is laid straight in. */
function straightened(mesh: Mesh, straight: Similarity): Mesh {
  const back = invert(straight);
  const out = new Float32Array(mesh.length);
  for (let n = 0; n < mesh.length; n += 2) moved(back, mesh[n], mesh[n + 1], out, n);
  return out;
}

/** 1 up to the first of two values, 0 from the second on. */
function falling(v: number, [from, to]: readonly number[]): number {
  const t = Math.min(1, Math.max(0, (to - v) / (to - from)));
  return t * t * (3 - 2 * t);
}

/** How far a reference agrees with a face in what its pixels can say. */
function agreement(lit: Float32Array, own: Float32Array, side: number, ratio: number): { here: Float32Array; agrees: number } {
  const sigma = Math.max(SMOOTH, ratio, SEEN_OVER * side);
  const seen = smoothed(own, side, sigma),
    broad = smoothedBroadly(own, side, VARIES_OVER * side);
  const apart = smoothed(
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

/** A reference as a guard is shown it. */
export const knownFace = ({ picture: { data, width, height }, mesh }: ReferenceFace): KnownFace => ({
  picture: { data: Uint8Array.from(data, (v) => v >> 8), width, height },
  at: frameOf(mesh, 1),
});

/** How far each pixel of a frame is moved. */
interface Move {
  x: Float32Array;
  y: Float32Array;
}

interface ReducedLuma {
  data: Uint16Array;
  width: number;
  height: number;
  by: number;
}

/** Means of luma (ITU-R BT.601) over squares of `by` pixels. */
function reducedLuma({ data, width, height }: LaidPicture, by: number): ReducedLuma {
  const w = Math.max(1, Math.floor(width / by)),
    h = Math.max(1, Math.floor(height / by));
  const out = new Uint16Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (let v = 0; v < by; v++)
        for (let u = 0; u < by; u++) {
          const i = 3 * (Math.min(height - 1, y * by + v) * width + Math.min(width - 1, x * by + u));
          sum += 0.299 * data[i] + 0.587 * data[i + 1] + 0.114 * data[i + 2];
        }
      out[y * w + x] = Math.round(sum / (by * by));
    }
  return { data: out, width: w, height: h, by };
}

/** Where each pixel of a frame lies in a reference, in its pixels: straight as both faces are, and moved as the mesh's points round it are. */
function placesBetween(outline: Mesh, side: number, mesh: Mesh, straight: Similarity): Move {
  const spot = new Float64Array(2);
  const count = mesh.length / 2;
  const off = new Float32Array(mesh.length);
  for (let n = 0; n < count; n++) {
    moved(straight, outline[2 * n], outline[2 * n + 1], spot, 0);
    off[2 * n] = mesh[2 * n] - spot[0];
    off[2 * n + 1] = mesh[2 * n + 1] - spot[1];
  }
  const nodes = Math.ceil(side / GRID) + 1;
  const grid = new Float32Array(2 * nodes * nodes);
  for (let y = 0; y < nodes; y++)
    for (let x = 0; x < nodes; x++) {
      const u = (x * GRID) / side,
        v = (y * GRID) / side;
      let dx = 0,
        dy = 0,
        // Far from all points little is moved.
        sum = 1e-3;
      for (let n = 0; n < count; n++) {
        const weight = Math.exp(-((outline[2 * n] - u) ** 2 + (outline[2 * n + 1] - v) ** 2) / (2 * POINTS_OVER ** 2));
        dx += weight * off[2 * n];
        dy += weight * off[2 * n + 1];
        sum += weight;
      }
      grid[2 * (y * nodes + x)] = dx / sum;
      grid[2 * (y * nodes + x) + 1] = dy / sum;
    }
  const out = { x: new Float32Array(side * side), y: new Float32Array(side * side) };
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const i = y * side + x;
      moved(straight, (x + 0.5) / side, (y + 0.5) / side, spot, 0);
      const gx = (x + 0.5) / GRID,
        gy = (y + 0.5) / GRID;
      const node = 2 * (Math.floor(gy) * nodes + Math.floor(gx));
      const fx = gx % 1,
        fy = gy % 1;
      const between = (axis: number): number =>
        (grid[node + axis] * (1 - fx) + grid[node + 2 + axis] * fx) * (1 - fy) +
        (grid[node + 2 * nodes + axis] * (1 - fx) + grid[node + 2 * nodes + 2 + axis] * fx) * fy;
      out.x[i] = spot[0] + between(0);
      out.y[i] = spot[1] + between(1);
    }
  return out;
}

/** A reference where its places say, each taken from as far beside it as the move tells. */
function sampled({ data, width, height, by }: ReducedLuma, places: Move, side: number, move: Move): Float32Array {
  const out = new Float32Array(side * side);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const i = y * side + x;
      const px = Math.min(side - 1.001, Math.max(0, x + move.x[i])),
        py = Math.min(side - 1.001, Math.max(0, y + move.y[i]));
      const at = (plane: Float32Array): number => between(plane, side, px, py);
      out[i] = cubicAt(data, width, height, at(places.x) / by - 0.5, at(places.y) / by - 0.5) / 65535;
    }
  return out;
}

function between(plane: Float32Array, side: number, x: number, y: number): number {
  const x0 = Math.floor(x),
    y0 = Math.floor(y),
    i = y0 * side + x0;
  const fx = x - x0,
    fy = y - y0;
  return (plane[i] * (1 - fx) + plane[i + 1] * fx) * (1 - fy) + (plane[i + side] * (1 - fx) + plane[i + side + 1] * fx) * fy;
}

/** Luma in the light and with the strength of forms that a face has. */
export function inLight(reference: Float32Array, own: Float32Array, side: number): Float32Array {
  const forms = (plane: Float32Array): Float32Array => {
    const mean = smoothedBroadly(plane, side, AROUND * side);
    const squares = smoothedBroadly(
      plane.map((v) => v * v),
      side,
      AROUND * side,
    );
    return squares.map((v, i) => Math.sqrt(Math.max(0, v - mean[i] ** 2)) + NO_FORM);
  };
  const light = smoothedBroadly(reference, side, LIGHT * side),
    there = smoothedBroadly(own, side, LIGHT * side);
  const is = forms(there),
    was = forms(light);
  return reference.map((v, i) => there[i] + Math.min(STRENGTH.most, Math.max(STRENGTH.least, is[i] / was[i])) * (v - light[i]));
}

/** The move that brings a reference nearest to a face. @param shown the reference, moved so, in the face's light. */
function refined(own: Float32Array, side: number, ratio: number, shown: (move: Move) => Float32Array): Move {
  const start = asWhole(own, side, shown);
  const move = { x: start.x.slice(), y: start.y.slice() };
  const sigma = Math.max(SMOOTH, ratio);
  const still = smoothed(own, side, sigma);
  const most = FURTHEST * side;
  const near = (v: number, to: number): number => Math.min(to + most, Math.max(to - most, v));
  for (let step = 0; step < STEPS; step++) {
    const other = smoothed(shown(move), side, sigma);
    const products = Array.from({ length: 5 }, () => new Float32Array(side * side));
    for (let y = 1; y < side - 1; y++)
      for (let x = 1; x < side - 1; x++) {
        const i = y * side + x;
        const gx = (still[i + 1] - still[i - 1] + other[i + 1] - other[i - 1]) / 4,
          gy = (still[i + side] - still[i - side] + other[i + side] - other[i - side]) / 4,
          off = still[i] - other[i];
        [gx * gx, gx * gy, gy * gy, gx * off, gy * off].forEach((v, n) => (products[n][i] = v));
      }
    const [xx, xy, yy, xt, yt] = products.map((plane) => smoothedBroadly(plane, side, WINDOW * side));
    for (let i = 0; i < own.length; i++) {
      const a = xx[i] + FLAT ** 2,
        c = yy[i] + FLAT ** 2;
      const det = a * c - xy[i] * xy[i];
      move.x[i] = near(move.x[i] + (c * xt[i] - xy[i] * yt[i]) / det, start.x[i]);
      move.y[i] = near(move.y[i] + (a * yt[i] - xy[i] * xt[i]) / det, start.y[i]);
    }
  }
  return move;
}

/** The move, turn and growth of all of a reference that brings it nearest to a face, by what is broad in both. */
function asWhole(own: Float32Array, side: number, shown: (move: Move) => Float32Array): Move {
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
