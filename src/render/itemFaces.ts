import { bestFrameOf, faceParts, facesAt, type FilmFaces } from '../core';
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
  const { first, meshes } = film.tracks[track];
  const best = bestFrameOf(film, track);
  return facesAt(film, best)
    .faces.filter((face) => face.track === track)
    .map(({ x, y, width, height, pixels, yaw }) => ({
      ...{ x, y, width, height, pixels, yaw },
      along: { best, first, last: first + meshes.length - 1 },
    }));
}

async function stillFaces(item: Item): Promise<FacesAnswer> {
  const a = await archive();
  const { value, share, problem } = await analysisState({
    analysis: facesAnalysis,
    file: itemAnalysisFile(a, item, facesAnalysis, measuredStream(item)),
    stream: measuredStream(item),
    describe: async () => ({ source: await sourceRef(a, item) }),
  });
  // Meshes stay on the server: nobody sees them.
  const faces = (value?.faces ?? []).map(({ x, y, width, height, pixels, blur, yaw, mesh }) => ({
    ...{ x, y, width, height, pixels, yaw },
    ...(blur !== undefined && { blur }),
    ...(mesh && { parts: faceParts(mesh, value ?? { width: 1, height: 1 }) }),
  }));
  return { faces, share, ...(problem && { problem }) };
}
