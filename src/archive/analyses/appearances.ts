import sharp from 'sharp';
import { describeFaces, findFaces, type FoundAppearance, wholeRegion } from '../../core';
import type { Analysis } from './analysis';

/** Quality of the small portraits. */
const QUALITY = 88;

/** The faces of a still, each with what it is known by. Its file is taken into the database at once, and goes. */
export const appearancesAnalysis: Analysis<FoundAppearance[]> = {
  id: 'appearances',
  version: 1,
  name: 'people',
  needs: [],
  async measure({ node }) {
    const picture = await node.frame(0, wholeRegion(node.stream));
    const described = await describeFaces(picture, await findFaces(picture));
    return Promise.all(
      described.map(async ({ square, ...face }) => {
        const side = Math.sqrt(square.length / 3);
        const samples = Uint8Array.from(square, (v) => Math.round(Math.min(255, Math.max(0, v))));
        const portrait = await sharp(samples, { raw: { width: side, height: side, channels: 3 } })
          .jpeg({ quality: QUALITY })
          .toBuffer();
        return { ...face, portrait: Uint8Array.from(portrait) };
      }),
    );
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
