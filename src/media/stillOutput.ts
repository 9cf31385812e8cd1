import { writeFile } from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import { type Picture, toRgb } from '../core';
import { ACCESS_QUALITY, type StillAccess } from '../shared/jobs';
import { type OverBoth, withOpacity } from './alpha';
import { MediaError } from './tools';

/** A still file: its format, and quality 1 to 100 of those that lose something. */
export interface StillFormat {
  kind: 'tiff' | 'png' | StillAccess;
  quality?: number;
  /** Bytes it is to stay under, with the best quality up to `quality` that does; of those that lose something. */
  under?: number;
}

/**
 * Writes a still, tagged sRGB: TIFF and PNG at 16 bits when the samples are finer than 8; JPEG, WebP and AVIF at 8, JPEG and AVIF with full
 * chroma. The file must not exist yet.
 *
 * @param over the same over black and over white where it can be seen through; JPEG takes the picture itself.
 * @param ppi pixels an inch to say in the file.
 * @throws MediaError when it cannot be written, or does not get as small as it has to be.
 */
export async function writeStill(
  picture: Picture,
  path: string,
  { kind, quality, under }: StillFormat,
  ppi: number,
  over?: OverBoth,
): Promise<void> {
  const { width, height } = picture.region;
  const deep = picture.info.depth > 8 && (kind === 'tiff' || kind === 'png');
  const grey = picture.info.planes === 1;
  const through = over !== undefined && kind !== 'jpeg';
  const samples = through ? seeThrough(over, deep) : grey ? greySamples(picture, deep ? 16 : 8) : toRgb(picture, deep ? 16 : 8);
  let image = sharp(samples, { raw: { width, height, channels: through ? 4 : grey ? 1 : 3 }, limitInputPixels: false });
  image = image.toColourspace(grey && !through ? (deep ? 'grey16' : 'b-w') : deep ? 'rgb16' : 'srgb').withDensity(ppi);
  try {
    if (kind === 'tiff')
      await image.tiff({ compression: 'deflate', predictor: 'horizontal', xres: ppi / 25.4, yres: ppi / 25.4 }).toFile(path);
    else if (kind === 'png') await image.png({ compressionLevel: 6 }).toFile(path);
    else if (under === undefined) await accessEncoder(image, kind, quality).toFile(path);
    else await writeFile(path, await fitted(image, kind, quality ?? ACCESS_QUALITY[kind], under), { flag: 'wx' });
  } catch (error) {
    if (error instanceof MediaError) throw error;
    throw new MediaError(`The still could not be written: ${(error as Error).message.split('\n')[0]}.`);
  }
}

/** Sets how an access copy is encoded. */
export function accessEncoder(image: Sharp, kind: StillAccess, quality = ACCESS_QUALITY[kind]): Sharp {
  if (kind === 'jpeg') return image.jpeg({ quality, chromaSubsampling: '4:4:4' });
  if (kind === 'webp') return image.webp({ quality, smartSubsample: true });
  return image.avif({ quality, chromaSubsampling: '4:4:4' });
}

/** Bytes that metadata written later takes at the most. */
const METADATA_ROOM = 8192;

/** An access copy of the best quality that stays under a size. */
async function fitted(image: Sharp, kind: StillAccess, most: number, under: number): Promise<Buffer> {
  const encoded = (quality: number): Promise<Buffer> => accessEncoder(image.clone(), kind, quality).toBuffer();
  const { quality, value } = await bestQuality(most, under - METADATA_ROOM, async (q) => {
    const data = await encoded(q);
    return { bytes: data.length, data };
  });
  if (value.bytes > under - METADATA_ROOM)
    throw new MediaError(
      `The access copy takes ${kilobytes(value.bytes)} at quality ${quality}, the lowest there is: it cannot stay under ${kilobytes(under)}.`,
    );
  return value.data;
}

const kilobytes = (bytes: number): string => `${Math.ceil(bytes / 1000)} kB`;

/**
 * The highest quality, by bisection, whose size stays under a bound; 1 where none does.
 * @param sized the size at a quality, and whatever else is to be kept of it.
 */
export async function bestQuality<T extends { bytes: number }>(
  most: number,
  under: number,
  sized: (quality: number) => Promise<T>,
): Promise<{ quality: number; value: T }> {
  const first = await sized(most);
  if (first.bytes <= under) return { quality: most, value: first };
  let low = 0,
    high = most;
  let best: { quality: number; value: T } | undefined;
  while (high - low > 1) {
    const quality = (low + high) >> 1;
    const value = await sized(quality);
    if (value.bytes <= under) {
      best = { quality, value };
      low = quality;
    } else high = quality;
  }
  return best ?? { quality: 1, value: most === 1 ? first : await sized(1) };
}

function seeThrough(over: OverBoth, deep: boolean): Uint8Array | Uint16Array {
  const samples = withOpacity(over);
  return deep ? samples : Uint8Array.from(samples, (v) => Math.round(v / 257));
}

function greySamples(picture: Picture, bits: 8 | 16): Uint8Array | Uint16Array {
  const { data } = picture.planes[0];
  return bits === 16 ? data : Uint8Array.from(data, (v) => Math.round(v / 257));
}
