import sharp, { type Metadata } from 'sharp';
import type { MediaFacts } from './facts';
import { readProfile } from './colour/profile';
import { MAX_FRAME_PIXELS, refusedSize } from './limits';
import { hasAlpha, layoutFor } from './pixelFormats';
import { jpegStep } from './quantiser';
import type { Part } from './part';
import { MediaError, sharpComplaint } from './tools';

/** Most pages that are looked at. */
const MAX_PAGES = 1000;

/** Said of what has an alpha channel. */
export const NO_ALPHA = 'transparency is left out of results; the original keeps it';

/** Still formats that sharp decodes, by their first bytes; the others are ffmpeg's. */
export function sharpFormat(head: Buffer): 'jpeg' | 'png' | 'tiff' | 'webp' | 'heif' | 'gif' | undefined {
  const text = head.toString('latin1');
  if (text.startsWith('\xff\xd8\xff')) return 'jpeg';
  if (text.startsWith('\x89PNG\r\n\x1a\n')) return 'png';
  if (/^(II\*\0|MM\0\*|II\+\0|MM\0\+)/.test(text)) return 'tiff';
  if (text.startsWith('RIFF') && text.slice(8, 12) === 'WEBP') return 'webp';
  if (/^....ftyp(avif|heic|heix|mif1)/s.test(text)) return 'heif';
  if (/^GIF8[79]a/.test(text)) return 'gif';
  return undefined;
}

/** Containers of stills whose frames sharp decodes. */
export const SHARP_CONTAINERS = new Set(['jpeg', 'png', 'tiff', 'webp', 'heif', 'gif']);

/**
 * A Truevision picture by its header, for it has no signature: that is plausible, and its name or its last bytes say so too
 * (Truevision TGA File Format Specification 2.0).
 */
export function targa(head: Buffer, tail: Buffer, name: string): CodedPicture | undefined {
  const [, palette, kind] = head,
    width = head.readUInt16LE(12),
    height = head.readUInt16LE(14),
    bits = head[16];
  const plausible = palette <= 1 && [1, 2, 3, 9, 10, 11].includes(kind) && width * height > 0 && [8, 15, 16, 24, 32].includes(bits);
  if (!plausible || !(tail.includes('TRUEVISION-XFILE.') || /\.(tga|icb|vda|vst)$/i.test(name))) return undefined;
  return { codec: 'targa', pixelFormat: kind % 8 === 3 ? 'gray' : bits === 32 ? 'bgra' : 'bgr24', width, height };
}

/**
 * Facts of a still that sharp reads. Width and height are as seen, after the turn its tags ask for.
 * @param page of a file with several, from 0.
 * @returns undefined for pictures that move.
 */
export async function probeStill(path: string, bytes: number, page?: number): Promise<MediaFacts | undefined> {
  let meta: Metadata;
  try {
    meta = await sharp(path, { limitInputPixels: false, failOn: 'none', page: page ?? 0 }).metadata();
  } catch (error) {
    throw new MediaError(`The picture cannot be read: ${sharpComplaint(error)}.`);
  }
  if (meta.format === 'gif' && (meta.pages ?? 1) > 1) return undefined;
  if (meta.format === 'heif' && meta.compression !== 'av1')
    throw new MediaError('HEIC pictures are not read; save it as JPEG, AVIF or TIFF.');
  if (!meta.width || !meta.height) throw new MediaError('The picture has no size.');
  const refused = refusedSize(meta.width, meta.height, bytes);
  if (refused) throw new MediaError(refused);
  const turned = (meta.orientation ?? 1) >= 5;
  const damage: string[] = [];
  try {
    await readThrough(path, page ?? 0);
  } catch (error) {
    damage.push(`the picture is cut off or damaged: ${sharpComplaint(error)}`);
  }
  const deep = meta.depth === 'ushort' || meta.depth === 'short' || meta.depth === 'float';
  const notes: string[] = [];
  if (meta.hasAlpha) notes.push(NO_ALPHA);
  const many = meta.pages ?? 1;
  const pages = meta.format === 'tiff' && page === undefined ? await ownPages(path, many) : [0];
  if (meta.format === 'tiff' && page === undefined && many > pages.length)
    notes.push(`${many - pages.length} of the file's ${many} pages are smaller copies of others, and left out`);
  if (meta.format !== 'tiff' && many > 1) notes.push(`the file holds ${many} pages; the first is taken`);
  return still({
    container: meta.format ?? 'unknown',
    pixelFormat: `${meta.space ?? 'srgb'} ${deep ? 16 : 8} bit`,
    bytes,
    width: turned ? meta.height : meta.width,
    height: turned ? meta.width : meta.height,
    grey: meta.space === 'b-w' || meta.space === 'grey16' || (meta.channels ?? 3) < 3,
    depth: deep ? 16 : 8,
    density: meta.density,
    profile: keptProfile(meta),
    codedStep: meta.format === 'jpeg' ? await jpegStep(path) : undefined,
    damage,
    notes,
    ...(page !== undefined && { part: { page } }),
    ...(pages.length > 1 && { holds: { pages } }),
  });
}

/** Decodes all of a picture and keeps next to nothing of it. @throws what sharp says of one that is cut off. */
const readThrough = (path: string, page: number): Promise<Buffer> =>
  sharp(path, { limitInputPixels: MAX_FRAME_PIXELS, failOn: 'truncated', sequentialRead: true, page })
    .resize(16, 16, { fit: 'fill', fastShrinkOnLoad: false })
    .raw()
    .toBuffer();

/** Bytes of the largest profile that is kept: those of matrix and curves have some hundred, tables of curves some thousand. */
const LARGEST_PROFILE = 100_000;

/** The profile of samples that are worked on as they are, because another space than sRGB would lose colours. */
function keptProfile({ icc, channels = 3, space }: Metadata): MediaFacts['profile'] {
  if (!icc || icc.length > LARGEST_PROFILE || channels < 3 || (space !== 'srgb' && space !== 'rgb' && space !== 'rgb16') || isSrgb(icc))
    return undefined;
  const read = readProfile(icc);
  return read && { name: read.name, icc: icc.toString('base64') };
}

/** Whether a profile says that it is of sRGB. */
export const isSrgb = (icc: Buffer): boolean => /s\0?R\0?G\0?B/i.test(icc.toString('latin1'));

/** Share the shapes of a picture and its smaller copy may differ by, through rounding. */
const SAME_SHAPE = 0.02;

/** The pages of a file that are pictures of their own: scanners and viewers add smaller copies, at most half the size, of the same shape. */
async function ownPages(path: string, pages: number): Promise<number[]> {
  const own: { page: number; width: number; height: number }[] = [];
  for (let page = 0; page < Math.min(pages, MAX_PAGES); page++) {
    const { width = 0, height = 0 } = await sharp(path, { limitInputPixels: false, failOn: 'none', page }).metadata();
    const isCopy = own.some(
      (o) => 2 * width <= o.width + 1 && Math.abs((width * o.height) / Math.max(1, height * o.width) - 1) < SAME_SHAPE,
    );
    if (!isCopy) own.push({ page, width, height });
  }
  return own.map(({ page }) => page);
}

/** What ffprobe says of a picture. */
export interface CodedPicture {
  codec: string;
  pixelFormat: string;
  width: number;
  height: number;
}

/** Facts of a still that ffmpeg reads. */
export function probeCodedStill({ codec, pixelFormat, width, height }: CodedPicture, bytes: number): MediaFacts {
  const refused = refusedSize(width, height, bytes);
  if (refused) throw new MediaError(refused);
  const layout = layoutFor(pixelFormat);
  return still({
    container: codec,
    pixelFormat,
    bytes,
    width,
    height,
    grey: layout.planes === 1,
    depth: layout.depth > 8 ? 16 : 8,
    damage: [],
    notes: hasAlpha(pixelFormat) ? [NO_ALPHA] : [],
  });
}

function still(s: {
  container: string;
  pixelFormat: string;
  bytes: number;
  width: number;
  height: number;
  grey: boolean;
  depth: number;
  density?: number;
  profile?: MediaFacts['profile'];
  codedStep?: number;
  damage: string[];
  notes: string[];
  part?: Part;
  holds?: MediaFacts['holds'];
}): MediaFacts {
  return {
    kind: 'still',
    ...(s.part && { part: s.part }),
    ...(s.profile && { profile: s.profile }),
    ...(s.holds && { holds: s.holds }),
    container: s.container,
    codec: s.container,
    pixelFormat: s.pixelFormat,
    bytes: s.bytes,
    stream: {
      width: s.width,
      height: s.height,
      pixelAspect: { num: 1, den: 1 },
      chromaShiftX: 0,
      chromaShiftY: 0,
      planes: s.grey ? 1 : 3,
      depth: s.depth,
      colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
      fieldOrder: 'progressive',
      frames: 1,
      rate: { num: 0, den: 1 },
    },
    duration: 0,
    videoStart: 0,
    variableRate: false,
    tracks: [],
    chapters: 0,
    ...(s.density ? { density: s.density } : {}),
    ...(s.codedStep ? { codedStep: s.codedStep } : {}),
    damage: s.damage,
    notes: s.notes,
  };
}
