import { open } from 'node:fs/promises';
import sharp, { type Metadata } from 'sharp';
import type { MediaFacts } from './facts';
import { MAX_FRAME_PIXELS, tooLarge } from './limits';
import { jpegStep } from './quantiser';
import { fileArgument, MediaError, runTool, SAFE_PROTOCOLS } from './tools';

/** Still format by its first bytes. */
export function stillFormat(head: Buffer): 'jpeg' | 'png' | 'tiff' | 'webp' | 'bmp' | undefined {
  const text = head.toString('latin1');
  if (text.startsWith('\xff\xd8\xff')) return 'jpeg';
  if (text.startsWith('\x89PNG\r\n\x1a\n')) return 'png';
  if (/^(II\*\0|MM\0\*|II\+\0|MM\0\+)/.test(text)) return 'tiff';
  if (text.startsWith('RIFF') && text.slice(8, 12) === 'WEBP') return 'webp';
  if (text.startsWith('BM') && head.readUInt32LE(6) === 0) return 'bmp';
  return undefined;
}

/** Facts of a still. Width and height are as seen, after the turn its tags ask for. */
export async function probeStill(path: string, bytes: number): Promise<MediaFacts> {
  const head = await readHead(path);
  return stillFormat(head) === 'bmp' ? probeBmp(path, bytes) : probeSharp(path, bytes);
}

async function readHead(path: string): Promise<Buffer> {
  const file = await open(path, 'r');
  try {
    const head = Buffer.alloc(32);
    await file.read(head, 0, 32, 0);
    return head;
  } finally {
    await file.close();
  }
}

async function probeSharp(path: string, bytes: number): Promise<MediaFacts> {
  let meta: Metadata;
  try {
    meta = await sharp(path, { limitInputPixels: false, failOn: 'none' }).metadata();
  } catch (error) {
    throw new MediaError(`The picture cannot be read: ${(error as Error).message.split('\n')[0]}.`);
  }
  if (!meta.width || !meta.height) throw new MediaError('The picture has no size.');
  if (meta.width * meta.height > MAX_FRAME_PIXELS) throw new MediaError(tooLarge(meta.width, meta.height));
  const turned = (meta.orientation ?? 1) >= 5;
  const damage: string[] = [];
  try {
    await sharp(path, { limitInputPixels: MAX_FRAME_PIXELS, failOn: 'truncated', sequentialRead: true }).stats();
  } catch (error) {
    damage.push(`the picture is cut off or damaged: ${(error as Error).message.split('\n')[0]}`);
  }
  const deep = meta.depth === 'ushort' || meta.depth === 'short' || meta.depth === 'float';
  const notes: string[] = [];
  if (meta.hasAlpha) notes.push('transparency is left out of results; the original keeps it');
  if ((meta.pages ?? 1) > 1) notes.push(`the file holds ${meta.pages} pages; the first is taken`);
  return still({
    container: meta.format ?? 'unknown',
    pixelFormat: `${meta.space ?? 'srgb'} ${deep ? 16 : 8} bit`,
    bytes,
    width: turned ? meta.height : meta.width,
    height: turned ? meta.width : meta.height,
    grey: meta.space === 'b-w' || meta.space === 'grey16' || (meta.channels ?? 3) < 3,
    depth: deep ? 16 : 8,
    density: meta.density,
    codedStep: meta.format === 'jpeg' ? await jpegStep(path) : undefined,
    damage,
    notes,
  });
}

async function probeBmp(path: string, bytes: number): Promise<MediaFacts> {
  const result = await runTool('ffprobe', [
    '-v',
    'error',
    ...SAFE_PROTOCOLS,
    '-f',
    'bmp_pipe',
    '-show_entries',
    'stream=width,height',
    '-of',
    'csv=p=0',
    fileArgument(path),
  ]);
  const [width, height] = result.stdout.toString().trim().split(',').map(Number);
  if (!width || !height) throw new MediaError('The bitmap cannot be read; it is cut off or damaged.');
  if (width * height > MAX_FRAME_PIXELS) throw new MediaError(tooLarge(width, height));
  return still({
    container: 'bmp',
    pixelFormat: 'bmp',
    bytes,
    width,
    height,
    grey: false,
    depth: 8,
    density: undefined,
    damage: [],
    notes: [],
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
  codedStep?: number;
  damage: string[];
  notes: string[];
}): MediaFacts {
  return {
    kind: 'still',
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
