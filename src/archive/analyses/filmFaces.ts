import { Cancelled, type FilmFaces, joinFilmFaces, measureFilmFaces, wholeRegion } from '../../core';
import type { Analysis } from './analysis';
import { bytesOf, bytesText } from './bytes';
import { framesOf } from './pieces';

/** Frames of one piece, about. */
const PIECE_FRAMES = 120;
/** Steps of a coordinate to the width or height of the frame, and how far meshes reach beyond it. */
const STEPS = 32768,
  BEYOND = 0.5;

/** The faces of a film, each followed through its shot. */
export const filmFacesAnalysis: Analysis<FilmFaces> = {
  id: 'film-faces',
  version: 1,
  name: 'faces along the film',
  needs: [],
  pieces: {
    count: ({ frames }) => Math.ceil(frames / PIECE_FRAMES),
    join: (values) => joinFilmFaces(values.filter((value) => value !== undefined)),
  },
  measure({ node }, { piece = { index: 0, count: 1 }, progress, cancelled }) {
    const [first, end] = framesOf(piece, node.stream.frames);
    return measureFilmFaces(node.stream, (n) => node.frame(n, wholeRegion(node.stream)), {
      ...{ first, end },
      progress(found, share) {
        if (cancelled()) throw new Cancelled();
        return progress(found, share);
      },
    });
  },
  encode: ({ tracks, ...film }): KeptFaces => ({
    ...film,
    tracks: tracks.map(({ first, meshes }) => ({ first, meshes: meshes.map(meshText) })),
  }),
  decode(kept) {
    const { tracks, ...film } = kept as KeptFaces;
    return { ...film, tracks: tracks.map(({ first, meshes }) => ({ first, meshes: meshes.map(meshOf) })) };
  },
};

type KeptFaces = Omit<FilmFaces, 'tracks'> & { tracks: { first: number; meshes: string[] }[] };

function meshText(mesh: Float32Array): string {
  const words = Uint16Array.from(mesh, (v) => Math.min(65535, Math.max(0, Math.round((v + BEYOND) * STEPS))));
  return bytesText(new Uint8Array(words.buffer));
}

const meshOf = (text: string): Float32Array => Float32Array.from(new Uint16Array(bytesOf(text).buffer), (v) => v / STEPS - BEYOND);
