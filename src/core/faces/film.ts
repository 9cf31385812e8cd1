import { pairMotion, reducedFrame, type Reduced } from '../film/motion';
import type { Picture, StreamInfo } from '../picture/picture';
import { fewerPixels, rgbOf, type Rgb } from '../vision/rgb';
import type { FaceSpan } from './describe';
import { apartFrom, shared } from './detector';
import { faceNetworks, type Face, type Faces, MESH_SURE, poseOf, seenFaces } from './find';
import type { Box } from './frame';
import { boundsOf, landmarksOf, type Mesh } from './mesh';

/** One face along a shot: its mesh in each of the frames from `first` on, in fractions of the frame. */
export interface FaceTrack {
  first: number;
  meshes: Mesh[];
}

/** The faces of a film, each followed through its shot. */
export interface FilmFaces {
  /** Size of a frame, in pixels. */
  width: number;
  height: number;
  frames: number;
  /** Frames by which a shot begins, rising. */
  shots: number[];
  tracks: FaceTrack[];
}

/** Frames from one look for new faces to the next; between them those that are known are followed. */
const LOOK_EVERY = 6;
/** Looks in a row that may miss a face before it is taken for something that was followed by mistake. */
const MISSED = 3;
/** Frames in a row over which a face that is lost is bridged. */
const BRIDGED = 4;
/** How much a face that is cut off is worth less than a small one: a power of the share that is seen. */
const CUT_OFF = 4;
/** Frames a face must be seen in. */
const LEAST_FRAMES = 4;
/** Pixels of a frame that are looked at. */
const MAX_PIXELS = 1_000_000;

/** A face that is being followed, its meshes in pixels of what is looked at. */
interface Followed {
  first: number;
  meshes: Mesh[];
  /** Frame of the last look that saw it, and how many looks since did not. */
  confirmed: number;
  missed: number;
  /** Frames at its end in which it is not seen; the last mesh stands for it there. */
  lost: number;
}

export interface MeasuringFaces {
  /** The first frame that is measured, and the one after the last. */
  first: number;
  end: number;
  /** Is told what is found so far, and which share of all it is, 0 to 1. */
  progress(found: FilmFaces, share: number): Promise<void>;
}

/**
 * Finds the faces of a film, or a piece of it, and follows each through its shot: every few frames all of the picture is looked at, in between meshes
 * are laid where the last ones lay; a face that a look finds is followed back to the look before. Frames are counted from the first of the piece.
 *
 * @param frame gives whole frames of the stream.
 * @throws NetworkError when the networks cannot be used, or what `frame` and `progress` throw.
 */
export async function measureFilmFaces(
  { width, height }: StreamInfo,
  frame: (n: number) => Promise<Picture>,
  { first, end, progress }: MeasuringFaces,
): Promise<FilmFaces> {
  const [detect, meshOf] = await faceNetworks();
  const shots: number[] = [];
  const ended: Followed[] = [];
  let active: Followed[] = [],
    /** Frames since the last look, the oldest first. */
    since: Rgb[] = [],
    before: Reduced | undefined = first > 0 ? reducedFrame(await frame(first - 1)) : undefined,
    seenAs = { width, height };
  const found = (): FilmFaces => ({
    ...{ width, height, frames: end - first, shots },
    tracks: [...ended, ...active].map(({ first: from, meshes }) => ({
      first: from,
      meshes: meshes.map((mesh) => inFractions(mesh, seenAs)),
    })),
  });
  const follow = async (rgb: Rgb, mesh: Mesh): Promise<Mesh | undefined> => {
    const [lx, ly, rx, ry] = landmarksOf(mesh);
    const next = await meshOf(rgb, boundsOf(mesh), Math.atan2(ry - ly, rx - lx));
    return next.score >= MESH_SURE ? next.mesh : undefined;
  };
  for (let n = 0; n < end - first; n++) {
    const picture = await frame(first + n);
    const now = reducedFrame(picture);
    const cut = before === undefined || pairMotion(before, now).cut;
    before = now;
    const rgb = rgbOf(fewerPixels(picture, MAX_PIXELS));
    seenAs = { width: rgb.width, height: rgb.height };
    if (cut) {
      shots.push(n);
      ended.push(...active);
      active = [];
      since = [];
    }
    for (const face of active) goOn(face, await follow(rgb, face.meshes[face.meshes.length - 1]));
    ended.push(...active.filter(({ lost }) => lost > BRIDGED));
    active = active.filter(({ lost }) => lost <= BRIDGED);
    if (cut || n % LOOK_EVERY === 0) {
      const { seen } = await seenFaces(rgb, detect, [0]);
      for (const face of active) {
        const there = seen.find((box) => !apart(box, boundsOf(face.meshes[face.meshes.length - 1])));
        face.missed = there ? 0 : face.missed + 1;
        if (there) face.confirmed = n;
        if (!there || face.lost === 0) continue;
        const again = await meshOf(rgb, there, 0);
        if (again.score >= MESH_SURE) goOn(trimmed(face, 1), again.mesh);
      }
      for (const lost of active.filter(({ missed }) => missed > MISSED)) ended.push(upTo(lost, lost.confirmed));
      active = active.filter(({ missed }) => missed <= MISSED);
      for (const box of seen.filter((face) => active.every(({ meshes }) => apart(face, boundsOf(meshes[meshes.length - 1]))))) {
        const { mesh, score } = await meshOf(rgb, box, 0);
        if (score < MESH_SURE) continue;
        const back = await followBack(mesh, since);
        active.push({ first: n - back.length, meshes: [...back, mesh], confirmed: n, missed: 0, lost: 0 });
      }
      since = [];
    }
    since.push(rgb);
    await progress(found(), (n + 1) / (end - first));
  }
  return found();

  /** Meshes of a face in the frames before, the oldest first, as far as it is seen. */
  async function followBack(mesh: Mesh, frames: readonly Rgb[]): Promise<Mesh[]> {
    const back: Mesh[] = [];
    let next: Mesh | undefined = mesh;
    // In the oldest frame all was looked at, and the face was not seen.
    for (let k = frames.length - 1; k > 0; k--) {
      next = await follow(frames[k], next);
      if (!next) break;
      back.unshift(next);
    }
    return back;
  }
}

/** Whether two boxes are of different faces. */
const apart = (a: Box, b: Box): boolean => apartFrom([{ ...a, score: 1 }], { ...b, score: 1 });

/** A face as far as a frame. */
const upTo = (face: Followed, frame: number): Followed => ({ ...face, meshes: face.meshes.slice(0, frame - face.first + 1), lost: 0 });

/** Takes frames in which a face was lost off its end again. */
function trimmed(face: Followed, frames: number): Followed {
  face.meshes.length -= frames;
  face.lost -= frames;
  return face;
}

/** Adds the next frame's mesh to a face; where it was lost before, it moved evenly from where it was last seen. */
function goOn(face: Followed, mesh: Mesh | undefined): void {
  const { meshes, lost } = face;
  if (!mesh) {
    meshes.push(meshes[meshes.length - 1]);
    face.lost++;
    return;
  }
  const from = meshes.length - 1 - lost;
  for (let n = 1; n <= lost; n++) {
    const share = n / (lost + 1);
    meshes[from + n] = mesh.map((v, i) => meshes[from][i] * (1 - share) + v * share);
  }
  meshes.push(mesh);
  face.lost = 0;
}

const inFractions = (mesh: Mesh, { width, height }: { width: number; height: number }): Mesh =>
  mesh.map((v, i) => v / (i % 2 ? height : width));

/** Puts pieces of a film together: a face goes on from piece to piece where no shot ends between them. Those hardly seen are left out. */
export function joinFilmFaces(pieces: readonly FilmFaces[]): FilmFaces {
  const [{ width, height }] = pieces;
  const shots: number[] = [];
  const tracks: FaceTrack[] = [];
  let from = 0;
  for (const piece of pieces) {
    shots.push(...piece.shots.map((n) => n + from));
    for (const track of piece.tracks) {
      const goesOn =
        track.first === 0 && !piece.shots.includes(0)
          ? tracks.find((t) => t.first + t.meshes.length === from && sameFace(t.meshes[t.meshes.length - 1], track.meshes[0]))
          : undefined;
      if (goesOn) goesOn.meshes = [...goesOn.meshes, ...track.meshes];
      else tracks.push({ first: track.first + from, meshes: track.meshes });
    }
    from += piece.frames;
  }
  return { ...{ width, height, frames: from, shots }, tracks: tracks.filter(({ meshes }) => meshes.length >= LEAST_FRAMES) };
}

/** Share of their joint area that boxes of one face in two frames have in common at least. */
const SAME = 1 / 3;
const sameFace = (a: Mesh, b: Mesh): boolean => shared(boundsOf(a), boundsOf(b)) >= SAME;

/** A face of a frame, and the number of its track. */
export interface FilmFace extends Face {
  track: number;
}

/** The mesh of a track at a frame; undefined where it is not seen. */
export const meshAt = ({ tracks }: FilmFaces, track: number, frame: number): Mesh | undefined =>
  tracks[track].meshes[frame - tracks[track].first];

/** The faces of a frame of a film. */
export function facesAt(film: FilmFaces, frame: number): Omit<Faces, 'faces'> & { faces: FilmFace[] } {
  const faces = film.tracks.flatMap(({ first, meshes }, track): FilmFace[] =>
    frame >= first && frame < first + meshes.length ? [{ ...faceOfMesh(meshes[frame - first], film), track }] : [],
  );
  return { faces, width: film.width, height: film.height };
}

function faceOfMesh(mesh: Mesh, { width, height }: { width: number; height: number }): Face {
  const box = boundsOf(mesh);
  const pixels = mesh.map((v, i) => v * (i % 2 ? height : width));
  return { ...box, score: 1, mesh: Array.from(mesh), pixels: Math.round(box.width * width), ...poseOf(pixels) };
}

/** The frames of a track, and the one that shows the face best. */
export function spanOf(film: FilmFaces, track: number): FaceSpan {
  const { first, meshes } = film.tracks[track];
  return { first, last: first + meshes.length - 1, best: bestFrameOf(film, track) };
}

/** Share of a mesh that lies within the frame. */
const within = (mesh: Mesh): number => 1 - mesh.filter((v) => v < 0 || v > 1).length / mesh.length;

/** The frame of a track that shows the face best: large, turned to the camera, and not cut off. */
export function bestFrameOf(film: FilmFaces, track: number): number {
  const { first, meshes } = film.tracks[track];
  const worth = meshes.map((mesh) => {
    const { pixels, yaw } = faceOfMesh(mesh, film);
    return pixels * Math.cos((Math.PI / 180) * Math.min(85, Math.abs(yaw))) * within(mesh) ** CUT_OFF;
  });
  return first + worth.indexOf(Math.max(...worth));
}
