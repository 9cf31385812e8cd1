import { CodedError, faceParts, type Faces, facesAt, type FilmFaces, inlayOfFace, spanOf } from '../core';
import {
  archive,
  type FacesAnswer,
  type FoundFaceAnswer,
  facesAnalysis,
  filmFacesAnalysis,
  type Item,
  itemAnalysisFile,
  measuredStream,
} from '../archive';
import { analysed, analysisState, type WantedAnalysis } from './analyse';
import { sourceRef } from './sourceRef';

/** The faces of a still or a film as far as they are found; asking begins it. */
export const itemFaces = (item: Item): Promise<FacesAnswer> => (item.kind === 'still' ? stillFaces(item) : filmFaces(item));

async function filmFacesWanted(item: Item): Promise<WantedAnalysis<FilmFaces>> {
  const a = await archive();
  const stream = measuredStream(item);
  return {
    ...{ analysis: filmFacesAnalysis, file: itemAnalysisFile(a, item, filmFacesAnalysis, stream), stream },
    describe: async () => ({ source: await sourceRef(a, item) }),
  };
}

async function filmFaces(item: Item): Promise<FacesAnswer> {
  const { value, share, problem } = await analysisState(await filmFacesWanted(item));
  const faces = value ? value.tracks.flatMap((_, track) => trackAnswer(value, track)) : [];
  return { faces, share, ...(problem && { problem }) };
}

/** A face that is followed, as its best frame shows it. */
function trackAnswer(film: FilmFaces, track: number): FoundFaceAnswer[] {
  const along = spanOf(film, track);
  return facesAt(film, along.best)
    .faces.filter((face) => face.track === track)
    .map(({ x, y, width, height, pixels, yaw }) => ({
      ...{ x, y, width, height, pixels, yaw },
      along,
    }));
}

async function facesWanted(item: Item): Promise<WantedAnalysis<Faces>> {
  const a = await archive();
  return {
    analysis: facesAnalysis,
    file: itemAnalysisFile(a, item, facesAnalysis, measuredStream(item)),
    stream: measuredStream(item),
    describe: async () => ({ source: await sourceRef(a, item) }),
  };
}

/** The faces of a still; found first where they were not. */
async function facesOfStill(item: Item): Promise<Faces> {
  return analysed(await facesWanted(item));
}

/** The mesh of a still's face, in pixels of the source. @throws CodedError where there is no such face. */
export async function meshOfFace(item: Item, face: number): Promise<Float32Array> {
  const { faces, ...size } = await facesOfStill(item);
  const mesh = faces.at(face)?.mesh;
  if (!mesh) throw new CodedError('mark', `Nothing is known of a face ${face + 1} in ${item.name}.`);
  return inPixels(mesh, size);
}

/**
 * The mesh of the face nearest to a place of a still, or of a film's frame, in pixels of the source. Faces are looked for where they were not.
 * @param at in fractions of the source.
 * @throws CodedError where there is no face.
 */
export async function meshNear(item: Item, at: { x: number; y: number }, frame: number): Promise<Float32Array> {
  const { faces, ...size } = item.kind === 'still' ? await facesOfStill(item) : facesAt(await analysed(await filmFacesWanted(item)), frame);
  const off = ({ x, y, width, height }: Faces['faces'][number]): number => Math.hypot(x + width / 2 - at.x, y + height / 2 - at.y);
  const [nearest] = faces.filter(({ mesh }) => mesh).sort((one, two) => off(one) - off(two));
  if (!nearest?.mesh) throw new CodedError('mark', `No face is found there in ${item.name}.`);
  return inPixels(nearest.mesh, size);
}

const inPixels = (mesh: ArrayLike<number>, { width, height }: { width: number; height: number }): Float32Array =>
  Float32Array.from(mesh, (v, i) => v * (i % 2 ? height : width));

async function stillFaces(item: Item): Promise<FacesAnswer> {
  const { value, share, problem } = await analysisState(await facesWanted(item));
  // Meshes stay on the server: nobody sees them.
  const faces = (value?.faces ?? []).map(({ x, y, width, height, pixels, blur, yaw, mesh }) => ({
    ...{ x, y, width, height, pixels, yaw },
    ...(blur !== undefined && { blur }),
    ...(mesh && value && { parts: faceParts(mesh, value), inlay: inlayOfFace(mesh, value) }),
  }));
  return { faces, share, ...(problem && { problem }) };
}
