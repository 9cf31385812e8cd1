import sharp, { type Sharp } from 'sharp';
import { toRgb, wholeRegion } from '../core';
import type { MediaFacts } from './facts';
import { MAX_FRAME_PIXELS } from './limits';
import { openSource } from './openSource';
import { SHARP_CONTAINERS } from './stillProbe';
import { MediaError, sharpComplaint } from './tools';

/** An encoded picture for screens and paper. */
export interface SmallPicture {
  /** JPEG, sRGB. */
  file: Buffer;
  width: number;
  height: number;
}

const QUALITY = 93;

/** A file that sharp reads, reduced to at most `side` pixels wide and high, turned as its tags say. */
export const smallPicture = (file: string | Buffer, side: number, page = 0): Promise<SmallPicture> =>
  reduced(sharp(file, { limitInputPixels: MAX_FRAME_PIXELS, failOn: 'none', page }).autoOrient(), side);

/** Any still that is taken in, reduced to at most `side` pixels wide and high. */
export async function smallStill(path: string, facts: MediaFacts, side: number): Promise<SmallPicture> {
  if (SHARP_CONTAINERS.has(facts.container)) return smallPicture(path, side, facts.part?.page);
  const source = await openSource(path, path, { facts });
  try {
    const picture = await source.frame(0, wholeRegion(source.info));
    const { width, height } = picture.region;
    const channels = picture.info.planes === 1 ? 1 : 3;
    const samples = channels === 1 ? Uint8Array.from(picture.planes[0].data, (v) => Math.round(v / 257)) : toRgb(picture, 8);
    return await reduced(sharp(samples, { raw: { width, height, channels }, limitInputPixels: false }), side);
  } finally {
    source.close?.();
  }
}

async function reduced(image: Sharp, side: number): Promise<SmallPicture> {
  try {
    const { data, info } = await image
      .flatten({ background: 'white' })
      .toColourspace('srgb')
      .resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true })
      // At 16 bits sharp works in a wider space, which it leaves only when it is told to.
      .withIccProfile('srgb')
      .jpeg({ quality: QUALITY, chromaSubsampling: '4:4:4' })
      .toBuffer({ resolveWithObject: true });
    return { file: data, width: info.width, height: info.height };
  } catch (error) {
    throw new MediaError(`The picture cannot be read: ${sharpComplaint(error)}.`);
  }
}
