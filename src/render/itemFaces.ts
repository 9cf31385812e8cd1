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
import type { InlayPlace } from '../shared/inlay';
import { analysisState } from './analyse';
import { sourceRef } from './sourceRef';

/** The faces of a still or a film as far as they are found; asking begins it. */
export const itemFaces = (item: Item): Promise<FacesAnswer> => (item.kind === 'still' ? stillFaces(item) : filmFaces(item));

async function filmFaces(item: Item): Promise<FacesAnswer> {
  const a = await archive();
  const stream = measuredStream(item);
  const { value, share, problem } = await analysisState({
    ...{ analysis: filmFacesAnalysis, file: itemAnalysisFile(a, item, filmFacesAnalysis, stream), stream },
    describe: async () => ({ source: await sourceRef(a, item) }),
  });
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

/** What the analysis of a still's faces says by now; asking begins it. */
async function facesState(item: Item): ReturnType<typeof analysisState<Faces>> {
  const a = await archive();
  return analysisState({
    analysis: facesAnalysis,
    file: itemAnalysisFile(a, item, facesAnalysis, measuredStream(item)),
    stream: measuredStream(item),
    describe: async () => ({ source: await sourceRef(a, item) }),
  });
}

/** Where the part of a still's face that is laid into others lies. @throws CodedError where there is no such face. */
export async function inlayOf(item: Item, face: number): Promise<InlayPlace> {
  const { value } = await facesState(item);
  const mesh = value?.faces[face]?.mesh;
  if (!value || !mesh) throw new CodedError('mark', `Nothing is known of a face ${face + 1} in ${item.name}.`);
  return inlayOfFace(mesh, value);
}

async function stillFaces(item: Item): Promise<FacesAnswer> {
  const { value, share, problem } = await facesState(item);
  // Meshes stay on the server: nobody sees them.
  const faces = (value?.faces ?? []).map(({ x, y, width, height, pixels, blur, yaw, mesh }) => ({
    ...{ x, y, width, height, pixels, yaw },
    ...(blur !== undefined && { blur }),
    ...(mesh && value && { parts: faceParts(mesh, value), inlay: inlayOfFace(mesh, value) }),
  }));
  return { faces, share, ...(problem && { problem }) };
}
