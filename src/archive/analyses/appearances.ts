import sharp from 'sharp';
import {
  Cancelled,
  CodedError,
  describeFaces,
  type Faces,
  facesAt,
  type FilmFaces,
  findFaces,
  type FoundAppearance,
  type Picture,
  spanOf,
  wholeRegion,
} from '../../core';
import type { Analysis, Measured, Measuring } from './analysis';
import { filmFacesAnalysis } from './filmFaces';

/** Quality of the small portraits. */
const QUALITY = 88;

/** Pixels across from which a face of a film is worth knowing. */
const LEAST = 24;

/** The faces of a picture as people are known by them. */
async function appearancesOn(picture: Picture, faces: Faces): Promise<FoundAppearance[]> {
  return Promise.all(
    (await describeFaces(picture, faces)).map(async ({ square, ...face }) => {
      const side = Math.sqrt(square.length / 3);
      const samples = Uint8Array.from(square, (v) => Math.round(Math.min(255, Math.max(0, v))));
      const portrait = await sharp(samples, { raw: { width: side, height: side, channels: 3 } })
        .jpeg({ quality: QUALITY })
        .toBuffer();
      return { ...face, portrait: Uint8Array.from(portrait) };
    }),
  );
}

/** The faces that are followed along a film, each as its best frame shows it. */
async function appearancesAlong(film: FilmFaces, { node, progress, cancelled }: Looking): Promise<FoundAppearance[]> {
  const spans = film.tracks.map((_, track) => ({ track, along: spanOf(film, track) })).sort((a, b) => a.along.best - b.along.best);
  const found: FoundAppearance[] = [];
  for (const [done, { track, along }] of spans.entries()) {
    if (cancelled()) throw new Cancelled();
    const there = facesAt(film, along.best);
    const faces = there.faces.filter((face) => face.track === track && face.pixels >= LEAST);
    if (faces.length) {
      const picture = await node.frame(along.best, wholeRegion(node.stream));
      found.push(...(await appearancesOn(picture, { ...there, faces })).map((face) => ({ ...face, along })));
    }
    await progress(found, (done + 1) / spans.length);
  }
  return found;
}

type Looking = Pick<Measured, 'node'> & Pick<Measuring<FoundAppearance[]>, 'progress' | 'cancelled'>;

/**
 * The faces of a still, or along a film whose faces were followed before, each with what it is known by. Its file is taken into the database at once,
 * and goes.
 */
export const appearancesAnalysis: Analysis<FoundAppearance[]> = {
  id: 'appearances',
  version: 1,
  name: 'people',
  needs: [],
  async measure({ node, known }, { progress, cancelled }) {
    if (node.stream.frames > 1) {
      const film = known(filmFacesAnalysis.id) as FilmFaces | undefined;
      if (!film) throw new CodedError('people', 'The faces of this film have to be followed first.');
      return appearancesAlong(film, { node, progress, cancelled });
    }
    const picture = await node.frame(0, wholeRegion(node.stream));
    return appearancesOn(picture, await findFaces(picture));
  },
  encode: (faces) =>
    faces.map(({ residual, separable, portrait, ...face }) => ({
      ...face,
      residual: Array.from(residual),
      separable: Array.from(separable),
      portrait: Buffer.from(portrait).toString('base64'),
    })),
  decode: (kept) =>
    (
      kept as (Omit<FoundAppearance, 'residual' | 'separable' | 'portrait'> &
        Record<'residual' | 'separable', number[]> & { portrait: string })[]
    ).map(({ residual, separable, portrait, ...face }) => ({
      ...face,
      residual: Float32Array.from(residual),
      separable: Float32Array.from(separable),
      portrait: Uint8Array.from(Buffer.from(portrait, 'base64')),
    })),
};
