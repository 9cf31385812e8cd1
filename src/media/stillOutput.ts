import { writeFile } from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import { type Picture, toRgb } from '../core';
import { ACCESS_QUALITY, type StillAccess, type StillSpace } from '../shared/jobs';
import { type OverBoth, withOpacity } from './alpha';
import { convertRgb } from './colour/convert';
import { towards } from './colour/source';
import { profileOf } from './colour/spaces';
import type { MediaFacts } from './facts';
import { tagProfile } from './metadata';
import { MediaError } from './tools';

/** A still file: its format, and quality 1 to 100 of those that lose something. */
export interface StillFormat {
  kind: 'tiff' | 'png' | StillAccess;
  quality?: number;
  /** Bytes it is to stay under, with the best quality up to `quality` that does; of those that lose something. */
  under?: number;
  /** Space of its colours; sRGB where it is left out. */
  space?: StillSpace;
}

/** What goes with a still. */
export interface StillDetails {
  /** Pixels an inch to say in the file. */
  ppi: number;
  /** The still over black and over white, where it can be seen through; JPEG takes the picture itself. */
  over?: OverBoth;
  /** Of the source, for its space. */
  facts?: Pick<MediaFacts, 'profile'>;
}

/**
 * Writes a still: TIFF (of 8 bits in LZW, written twice as fast as deflate for a tenth more bytes; of 16 in deflate, a fifth smaller) and PNG at 16
 * bits when the samples are finer than 8; JPEG, WebP and AVIF at 8, JPEG and AVIF with full chroma. TIFF, PNG and
 * JPEG are tagged with the profile of their colours or greys; WebP and AVIF are sRGB. The file must not exist yet.
 *
 * @throws MediaError when it cannot be written, or does not get as small as it has to be.
 */
export async function writeStill(
  picture: Picture,
  path: string,
  { kind, quality, under, space = 'srgb' }: StillFormat,
  { ppi, over, facts = {} }: StillDetails,
): Promise<void> {
  const { width, height } = picture.region;
  const deep = picture.info.depth > 8 && (kind === 'tiff' || kind === 'png');
  const through = over !== undefined && kind !== 'jpeg';
  const grey = picture.info.planes === 1 && !through;
  const samples = through ? seeThrough(over, deep) : grey ? greySamples(picture, deep ? 16 : 8) : toRgb(picture, deep ? 16 : 8);
  const { convert, icc } = towards(facts, space);
  if (convert && !grey) convertRgb(samples, through ? 4 : 3, convert.from, convert.to);
  let image = sharp(samples, { raw: { width, height, channels: through ? 4 : grey ? 1 : 3 }, limitInputPixels: false });
  image = image.toColourspace(grey ? (deep ? 'grey16' : 'b-w') : deep ? 'rgb16' : 'srgb').withDensity(ppi);
  try {
    if (kind === 'tiff')
      await image.tiff({ compression: deep ? 'deflate' : 'lzw', predictor: 'horizontal', xres: ppi / 25.4, yres: ppi / 25.4 }).toFile(path);
    else if (kind === 'png') await image.png({ compressionLevel: 6 }).toFile(path);
    else if (under === undefined) await accessEncoder(image, kind, quality).toFile(path);
    else await writeFile(path, await fitted(image, kind, quality ?? ACCESS_QUALITY[kind], under), { flag: 'wx' });
  } catch (error) {
    if (error instanceof MediaError) throw error;
    throw new MediaError(`The still could not be written: ${(error as Error).message.split('\n')[0]}.`);
  }
  if (kind === 'tiff' || kind === 'png' || kind === 'jpeg') await tagProfile(path, grey ? profileOf('grey') : icc);
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
