import { LRUCache } from 'lru-cache';
import sharp from 'sharp';
import { CodedError, type LaidPicture } from '../../core';
import { keepDocument, readDocument } from './documents';

/** Pictures held in memory. */
const HELD = 4;
const held = new LRUCache<string, LaidPicture>({ max: HELD });

/** Keeps a picture that steps may lay into others, as PNG. @param pixels red, green, blue and opacity, a byte each. @returns its SHA-256. */
export async function keepPicture(folder: string, pixels: Uint8Array, width: number, height: number): Promise<string> {
  const png = await sharp(pixels, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .png({ compressionLevel: 6 })
    .toBuffer();
  return keepDocument(folder, png);
}

/** @throws CodedError `mark` where there is none of that name, or it is no picture. */
export async function readPicture(folder: string, hash: string): Promise<LaidPicture> {
  const known = held.get(hash);
  if (known) return known;
  const bytes = await readDocument(folder, hash);
  const { data, info } = await sharp(bytes)
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true })
    .catch((cause: unknown) => {
      throw new CodedError('mark', `What is kept as ${hash.slice(0, 12)}… is no picture.`, { cause });
    });
  if (info.channels !== 3) throw new CodedError('mark', `What is kept as ${hash.slice(0, 12)}… is no picture in colour.`);
  const picture = { width: info.width, height: info.height, data: Uint16Array.from(data, (v) => v * 257) };
  held.set(hash, picture);
  return picture;
}
