import { type FaceAmount, faceAmounts, saidOf, standsFor } from '../../../shared/faceAmounts';
import { faceReferences, usedReferences } from '../../../shared/faceReferences';
import { invertPlace, pointAt, type Projective } from '../../../shared/maps/place';
import { facesAt, type FilmFaces, meshAt } from '../../faces/film';
import type { Face, Faces } from '../../faces/find';
import { type Similarity, within } from '../../faces/frame';
import { boundsOf, frameOf, landmarksOf, type Mesh } from '../../faces/mesh';
import { FRAME_SIDES } from '../../faces/restore';
import type { Region, StreamInfo } from '../../picture/picture';
import type { FacesSettings } from './settings';

/** Pixels of the source from which a frame's side needs no help, and at which it gets none. */
const LARGE = { from: 130, to: 320 };

/** A face as a step works it. */
export interface PlacedFace {
  face: Pick<Face, 'x' | 'y' | 'width' | 'height'>;
  /** From the frame's pixels to the input's. */
  at: Similarity;
  side: number;
  /** The mesh in parts of the frame; of one that was added by hand an oval. */
  outline: Mesh;
  /** Pixels of the frame for one of the source. */
  ratio: number;
  /** Pixels of the source between the eyes. */
  apart: number;
  /** How much of the correction is wanted, 0 to 1. */
  amount: number;
  /** Pixels of the input that it may change. */
  box: Region;
  /** Along a film, the number of its track. */
  track?: number;
  /** Names of the pictures it is restored by. */
  references: readonly string[];
}

/** Where an input lies in its source. */
export interface InSource {
  input: StreamInfo;
  place: Projective;
}

/** The faces of a still that get anything. */
export function placedFaces(source: Faces, { amount, each, references }: FacesSettings, where: InSource): PlacedFace[] {
  const said = faceAmounts(each);
  const others = faceReferences(references);
  const added = said
    .filter(({ width }) => width !== undefined)
    .map(({ x, y, width = 0, turn, amount: own }) => {
      const height = (width * source.width) / source.height;
      return { face: { x: x - width / 2, y: y - height / 2, width, height, turn, mesh: undefined }, own };
    });
  // What is placed by hand stands for what was found there.
  const found = source.faces
    .filter(({ x, y, width, height }) => !said.some((by) => standsFor(by, { x: x + width / 2, y: y + height / 2 }, source)))
    .map((face) => ({ face, own: saidOf(said, face)?.amount ?? 100 }));
  return [...found, ...added].flatMap(({ face, own }) =>
    wanted({ ...placedFace(face, source, where), references: usedReferences(saidOf(others, face)?.pictures ?? []) }, amount, own),
  );
}

/** The faces of a frame of a film that get anything. */
export function placedAlong(film: FilmFaces, frame: number, { amount, each, references }: FacesSettings, where: InSource): PlacedFace[] {
  const said = faceAmounts(each);
  const others = faceReferences(references);
  const source = facesAt(film, frame);
  return source.faces.flatMap((face) => {
    const own = { track: face.track, references: usedReferences(saidOfTrack(others, film, face.track)?.pictures ?? []) };
    return wanted({ ...placedFace(face, source, where), ...own }, amount, saidOfTrack(said, film, face.track)?.amount ?? 100);
  });
}

/** What is said of a face that is followed: it names one of its frames, and where the face lies there. */
export const saidOfTrack = <Said extends Pick<FaceAmount, 'x' | 'y' | 'frame'>>(
  said: readonly Said[],
  film: FilmFaces,
  track: number,
): Said | undefined =>
  said.find((one) => {
    const mesh = one.frame === undefined ? undefined : meshAt(film, track, one.frame);
    return mesh && saidOf([one], boundsOf(mesh));
  });

/** Pixels that a straight frame covers. @param unit takes its parts to them. */
function boxOf({ a, b, x, y }: Similarity): Region {
  const corners = [0, 1].flatMap((u) => [0, 1].map((v) => ({ x: a * u - b * v + x, y: b * u + a * v + y })));
  const left = Math.floor(Math.min(...corners.map((c) => c.x))),
    top = Math.floor(Math.min(...corners.map((c) => c.y)));
  const width = Math.ceil(Math.max(...corners.map((c) => c.x))) - left,
    height = Math.ceil(Math.max(...corners.map((c) => c.y))) - top;
  return { x: left, y: top, width, height };
}

/** Where a face that is followed lies in another frame, with a frame of the same side, and the pixels it covers; undefined where it is not seen. */
export function placedBeside(
  { track = -1, side }: PlacedFace,
  film: FilmFaces,
  frame: number,
  where: InSource,
): { at: Similarity; box: Region } | undefined {
  const mesh = meshAt(film, track, frame);
  if (!mesh) return undefined;
  const unit = frameOf(inInput(scaled(mesh, film), where), 1);
  return { at: within(unit, { a: 1 / side, b: 0, x: 0, y: 0 }), box: boxOf(unit) };
}

function wanted(placed: Partial<PlacedFace>, amount: number, own: number): PlacedFace[] {
  const share = placed.amount === undefined ? 0 : (amount / 100) * (own / 100) * placed.amount;
  return share ? [{ ...(placed as PlacedFace), amount: share }] : [];
}

/** An oval where a mesh would be, for faces that have none: points round the middle of the frame, in parts of it. */
export const OVAL = Float32Array.from({ length: 64 }, (_, i) => {
  const angle = (2 * Math.PI * (i >> 1)) / 32;
  return i % 2 ? 0.53 + 0.42 * Math.sin(angle) : 0.5 + 0.34 * Math.cos(angle);
});
/** Side of the frame against the width of a face's box, and how far its middle lies below the box's, in the same. */
const BOXED = { side: 1.45, below: 0.02 };

/** Points in pixels of the source. */
const scaled = (mesh: ArrayLike<number>, source: { width: number; height: number }): Mesh =>
  Float32Array.from(mesh, (v, i) => v * (i % 2 ? source.height : source.width));

/** Points of the source in the input. */
function inInput(points: Mesh, { place }: InSource): Mesh {
  const back = invertPlace(place);
  const here = points.slice();
  for (let n = 0; n < here.length; n += 2) {
    const p = pointAt(back, points[n], points[n + 1]);
    here[n] = p.x;
    here[n + 1] = p.y;
  }
  return here;
}

/** Nothing of a face that is too small to be worked, or outside of the input. */
function placedFace(face: PlacedFace['face'] & { mesh?: number[]; turn?: number }, source: Faces, where: InSource): Partial<PlacedFace> {
  const { input } = where;
  const inSource = face.mesh ? scaled(face.mesh, source) : ovalOf(face, source);
  const here = inInput(inSource, where);
  const unit = face.mesh ? frameOf(here, 1) : boxFrame(here);
  const sourceUnit = face.mesh ? frameOf(inSource, 1) : boxFrame(inSource);
  const wide = Math.hypot(unit.a, unit.b),
    sourceWide = Math.hypot(sourceUnit.a, sourceUnit.b);
  if (wide < FRAME_SIDES.least) return {};
  const side = Math.min(FRAME_SIDES.most, 8 * Math.round(wide / 8));
  const at = within(unit, { a: 1 / side, b: 0, x: 0, y: 0 });
  const large = Math.min(1, Math.max(0, (LARGE.to - sourceWide) / (LARGE.to - LARGE.from)));
  const outline = toFrame(here, unit);
  const [lx, ly, rx, ry] = face.mesh ? landmarksOf(inSource) : [0, 0, 0.31 * sourceWide, 0];
  const box = boxOf(unit);
  if (box.x >= input.width || box.y >= input.height || box.x + box.width <= 0 || box.y + box.height <= 0) return {};
  return { face, at, side, outline, ratio: side / sourceWide, apart: Math.hypot(rx - lx, ry - ly), amount: large, box };
}

/** The oval of a face without a mesh, in pixels of the source, turned as the face is. */
function ovalOf({ x, y, width, height, turn = 0 }: PlacedFace['face'] & { turn?: number }, source: Faces): Mesh {
  const side = BOXED.side * width * source.width;
  const [sin, cos] = [Math.sin((turn * Math.PI) / 180), Math.cos((turn * Math.PI) / 180)];
  return OVAL.map((_, i) => {
    const u = (OVAL[i - (i % 2)] - 0.5) * side,
      v = (OVAL[i - (i % 2) + 1] - 0.5 + BOXED.below) * side;
    return i % 2 ? (y + height / 2) * source.height + sin * u + cos * v : (x + width / 2) * source.width + cos * u - sin * v;
  });
}

/** The frame round an oval that stands for a mesh: its first point lies at the right of the middle, its 17th at the left. */
function boxFrame(oval: Mesh): Similarity {
  const a = (oval[0] - oval[32]) / 0.68,
    b = (oval[1] - oval[33]) / 0.68;
  const [x, y] = [(oval[0] + oval[32]) / 2, (oval[1] + oval[33]) / 2];
  return { a, b, x: x - 0.5 * a + 0.53 * b, y: y - 0.5 * b - 0.53 * a };
}

function toFrame(points: Mesh, { a, b, x, y }: Similarity): Mesh {
  const n = a * a + b * b;
  return points.map((_, i) => {
    const u = points[i - (i % 2)] - x,
      v = points[i - (i % 2) + 1] - y;
    return i % 2 ? (a * v - b * u) / n : (a * u + b * v) / n;
  });
}
