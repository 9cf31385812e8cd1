import { faceParts } from '../core';
import { archive, type FacesAnswer, facesAnalysis, type Item, itemAnalysisFile, measuredStream } from '../archive';
import { analysisState } from './analyse';
import { sourceRef } from './sourceRef';

/** The faces of a still as far as they are found; asking begins it. */
export async function itemFaces(item: Item): Promise<FacesAnswer> {
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
