import { type Faces, findFaces, wholeRegion } from '../../core';
import type { Analysis } from './analysis';

/** Where the faces of a still are. */
export const facesAnalysis: Analysis<Faces> = {
  id: 'faces',
  version: 3,
  name: 'faces',
  needs: [],
  measure: async ({ node }) => findFaces(await node.frame(0, wholeRegion(node.stream))),
  encode: (faces) => faces,
  decode: (kept) => kept as Faces,
};
