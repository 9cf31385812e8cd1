import type { LaidPicture } from '../../picture/laid';
import { sampleBetween } from '../../picture/between';
import { invert, moved, type Similarity } from '../frame';
import type { KnownFace } from '../guard';
import { frameOf, type Mesh } from '../mesh';
import { ovalMask } from '../oval';
import { agreement } from './agreement';
import { type FaceLight, inLight, lightOf } from './light';
import { type Layer, refined } from './moved';
import { type Move, placesBetween, type ReducedLuma, reducedLuma, sampled, squareOf } from './places';

/** A face that others are restored by: a picture, and its mesh in that picture's pixels. */
export interface ReferenceFace {
  picture: LaidPicture;
  mesh: Mesh;
}

/** Side of a frame beyond which half of it tells where a reference belongs. */
const LARGE = 160;
/** Smoothing, in pixels of the frame, of what is compared. */
const SMOOTH = 1.5;
/** Part of the frame over which a reference fades out at the mesh's outline. */
const FADE = 0.06;

/** What a reference says of a face. */
export interface LaidReference {
  /** Luma, 0 to 1: where it says nothing, the face's own. */
  luma: Float32Array;
  /** How far it agrees with what the face shows, 0 to 1; of 0 it is taken for somebody else. */
  agrees: number;
}

/**
 * The luma of another picture of a person, laid on a face by both meshes and by the slopes of both (Lucas and Kanade, 1981, window by window), in the light
 * and with the strength of forms that the face has. It counts only as far as it agrees with what the face shows, and not beyond the mesh.
 *
 * @param own luma of the face laid straight, 0 to 1. @param outline its mesh in parts of the frame, or an oval where it has none.
 * @param side pixels of the frame, an even number of them. @param ratio how many of them stand for one of the source.
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
  // Where it belongs is found in half of a large frame: more than that the windows do not tell.
  const by = side > LARGE ? 2 : 1;
  const grid = side / by,
    there = by === 1 ? own : halved(own, side);
  const smooth = Math.max(SMOOTH, ratio) / by;
  const places = placesBetween(points, grid, mesh, straight);
  const lay = layer(reducedLuma(picture, reduction * by), places, grid, lightOf(there, grid));
  const move = refined(there, grid, smooth, lay);
  const lit = lay(move);
  const { here, agrees } = agreement(lit, there, grid, smooth);
  if (agrees === 0) return { luma: own.slice(), agrees };
  const shown = by === 1 ? lit : finely(reducedLuma(picture, reduction), { places, move, grid }, own, side);
  const mask = ovalMask(outline, side, FADE);
  const agreed = squareOf(here, grid);
  const luma = own.slice();
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const i = y * side + x;
      if (mask[i] > 0)
        luma[i] += mask[i] * agrees * sampleBetween(agreed, (x + 0.5) / by - 0.5, (y + 0.5) / by - 0.5) * (shown[i] - own[i]);
    }
  return { luma, agrees };
}

/** A reference, laid where its places and a move tell, in a face's light. */
const layer =
  (luma: ReducedLuma, places: Move, side: number, light: FaceLight): Layer =>
  (move) =>
    inLight(sampled(luma, places, side, move), light, side);

/** A reference in a finer frame than its places and its move were found in. */
function finely(
  luma: ReducedLuma,
  { places, move, grid }: { places: Move; move: Move; grid: number },
  own: Float32Array,
  side: number,
): Float32Array {
  const still = { x: new Float32Array(side * side), y: new Float32Array(side * side) },
    at = { x: new Float32Array(side * side), y: new Float32Array(side * side) };
  const [acrossBy, downBy, acrossAt, downAt] = [move.x, move.y, places.x, places.y].map((plane) => squareOf(plane, grid));
  const parts = grid / side;
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const i = y * side + x;
      const u = (x + 0.5) * parts - 0.5,
        v = (y + 0.5) * parts - 0.5;
      const px = u + sampleBetween(acrossBy, u, v),
        py = v + sampleBetween(downBy, u, v);
      at.x[i] = sampleBetween(acrossAt, px, py);
      at.y[i] = sampleBetween(downAt, px, py);
    }
  return inLight(sampled(luma, at, side, still), lightOf(own, side), side);
}

/** Means over squares of two. */
function halved(plane: Float32Array, side: number): Float32Array {
  const half = side / 2;
  const out = new Float32Array(half * half);
  for (let y = 0; y < half; y++)
    for (let x = 0; x < half; x++) {
      const i = 2 * y * side + 2 * x;
      out[y * half + x] = (plane[i] + plane[i + 1] + plane[i + side] + plane[i + side + 1]) / 4;
    }
  return out;
}

/** A mesh in parts of the frame that it is laid straight in. */
function straightened(mesh: Mesh, straight: Similarity): Mesh {
  const back = invert(straight);
  const out = new Float32Array(mesh.length);
  for (let n = 0; n < mesh.length; n += 2) moved(back, mesh[n], mesh[n + 1], out, n);
  return out;
}

const known = new WeakMap<LaidPicture, KnownFace>();

/** A reference as a guard is shown it: one and the same for the same picture. */
export function knownFace({ picture, mesh }: ReferenceFace): KnownFace {
  const before = known.get(picture);
  if (before) return before;
  const { data, width, height } = picture;
  const bytes = new Uint8Array(data.length);
  for (let i = 0; i < bytes.length; i++) bytes[i] = data[i] >> 8;
  const face = { picture: { data: bytes, width, height }, at: frameOf(mesh, 1) };
  known.set(picture, face);
  return face;
}
