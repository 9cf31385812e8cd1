import { LRUCache } from 'lru-cache';
import sharp, { type OutputInfo } from 'sharp';
import { CodedError, type LaidPicture } from '../../core';
import { keepDocument, readDocument } from './documents';
import { meshOf, referenceIn } from './referenceDocument';

/** Bytes of pictures held in memory: four as large as any that are laid in, or hundreds of faces. */
const HELD = 400 << 20;
const held = new LRUCache<string, LaidPicture>({ maxSize: HELD, sizeCalculation: ({ data }) => data.byteLength });

/** Pixels that are kept: red, green, blue and perhaps opacity, which goes, a byte or two each. */
interface Pixels {
  data: Uint8Array | Uint16Array;
  width: number;
  height: number;
}

/** Keeps a picture that steps may lay into others, as PNG of 8 or 16 bits. @returns its SHA-256. */
export async function keepPicture(folder: string, { data, width, height }: Pixels): Promise<string> {
  const channels = data.length === 4 * width * height ? 4 : 3;
  const png = await sharp(data, { raw: { width, height, channels } })
    .removeAlpha()
    .toColourspace(data instanceof Uint16Array ? 'rgb16' : 'srgb')
    .png({ compressionLevel: 6 })
    .toBuffer();
  return keepDocument(folder, png);
}

/** A picture, or a reference with its mesh. @throws CodedError `mark` where there is none of that name, or it is neither. */
export async function readPicture(folder: string, hash: string): Promise<LaidPicture> {
  const known = held.get(hash);
  if (known) return known;
  const bytes = await readDocument(folder, hash);
  const reference = referenceIn(bytes);
  if (reference) {
    const face = { ...(await readPicture(folder, reference.picture)), mesh: meshOf(reference) };
    held.set(hash, face);
    return face;
  }
  const { data, info } = await decoded(bytes).catch((cause: unknown) => {
    throw new CodedError('mark', `What is kept as ${hash.slice(0, 12)}… is no picture.`, { cause });
  });
  if (info.channels !== 3) throw new CodedError('mark', `What is kept as ${hash.slice(0, 12)}… is no picture in colour.`);
  const picture = { width: info.width, height: info.height, data };
  held.set(hash, picture);
  return picture;
}

/** Samples of 16 bits, of which those of 8 are 257th parts. */
async function decoded(bytes: Buffer): Promise<{ data: Uint16Array; info: OutputInfo }> {
  const image = sharp(bytes);
  const deep = (await image.metadata()).depth === 'ushort';
  const { data, info } = await (deep ? image.toColourspace('rgb16') : image)
    .raw({ depth: deep ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return {
    data: deep ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : Uint16Array.from(data, (v) => v * 257),
    info,
  };
}
