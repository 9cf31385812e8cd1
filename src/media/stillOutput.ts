import sharp from 'sharp';
import { type Picture, toRgb } from '../core';
import { ACCESS_QUALITY, type StillAccess } from '../shared/jobs';
import { MediaError } from './tools';

/** A still file: its format, and quality 1 to 100 of those that lose something. */
export interface StillFormat {
  kind: 'tiff' | 'png' | StillAccess;
  quality?: number;
}

/**
 * Writes a still, tagged sRGB: TIFF and PNG at 16 bits when the samples are finer than 8; JPEG, WebP and AVIF at 8, JPEG and AVIF with full
 * chroma. The file must not exist yet.
 *
 * @param ppi pixels an inch to say in the file.
 */
export async function writeStill(picture: Picture, path: string, { kind, quality }: StillFormat, ppi: number): Promise<void> {
  const { width, height } = picture.region;
  const deep = picture.info.depth > 8 && (kind === 'tiff' || kind === 'png');
  const grey = picture.info.planes === 1;
  const samples = grey ? greySamples(picture, deep ? 16 : 8) : toRgb(picture, deep ? 16 : 8);
  let image = sharp(samples, { raw: { width, height, channels: grey ? 1 : 3 }, limitInputPixels: false });
  image = image.toColourspace(grey ? (deep ? 'grey16' : 'b-w') : deep ? 'rgb16' : 'srgb').withDensity(ppi);
  if (kind === 'tiff') image = image.tiff({ compression: 'deflate', predictor: 'horizontal', xres: ppi / 25.4, yres: ppi / 25.4 });
  else if (kind === 'png') image = image.png({ compressionLevel: 6 });
  else if (kind === 'jpeg') image = image.jpeg({ quality: quality ?? ACCESS_QUALITY.jpeg, chromaSubsampling: '4:4:4' });
  else if (kind === 'webp') image = image.webp({ quality: quality ?? ACCESS_QUALITY.webp, smartSubsample: true });
  else image = image.avif({ quality: quality ?? ACCESS_QUALITY.avif, chromaSubsampling: '4:4:4' });
  try {
    await image.toFile(path);
  } catch (error) {
    throw new MediaError(`The still could not be written: ${(error as Error).message.split('\n')[0]}.`);
  }
}

function greySamples(picture: Picture, bits: 8 | 16): Uint8Array | Uint16Array {
  const { data } = picture.planes[0];
  return bits === 16 ? data : Uint8Array.from(data, (v) => Math.round(v / 257));
}
