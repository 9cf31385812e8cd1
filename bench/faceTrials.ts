import { createHash } from 'node:crypto';
import { existsSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import type { Faces } from '../src/core/faces/find';
import { FRAME } from '../src/core/faces/frame';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import { cutPicture, wholeRegion, type Picture } from '../src/core/picture/picture';
import { normalStream } from '../src/core/picture/random';
import { readPlan } from '../src/core/plan/read';
import type { LaidPicture } from '../src/core/picture/laid';
import { toRgb } from '../src/core/picture/matrix';
import type { Rgb } from '../src/core/vision/rgb';
import { faceReferencesText } from '../src/shared/faceReferences';
import { jpegStep } from './coding';
import { FOLDER } from './prints';

/** What is done to faces before they are restored, at half the size: deviations of blur in pixels and of grain in codes, and the quality of a JPEG. */
export interface FaceDamage {
  blur: number;
  grain: number;
  quality: number;
}
export const POOR: FaceDamage = { blur: 0.7, grain: 8, quality: 50 },
  SOUND: FaceDamage = { blur: 0, grain: 0, quality: 95 };

/** A face at twice the size it has in the damaged picture, and that picture. */
export interface Trial {
  name: string;
  truth: Rgb;
  /** Where the frame lies in the truth, in pixels. */
  left: number;
  top: number;
  side: number;
  file: string;
  damage: FaceDamage;
}

/** Damages a picture of even size. @returns the file's name. */
export async function damagedFile(
  { data, width, height }: Rgb,
  { blur, grain: sigma, quality }: FaceDamage,
  seed: number,
  file: string,
): Promise<string> {
  const raw = { width: width / 2, height: height / 2, channels: 3 as const };
  const small = await sharp(data, { raw: { width, height, channels: 3 } })
    .resize(raw.width, raw.height, { kernel: 'linear' })
    .blur(blur || false)
    .raw()
    .toBuffer();
  const normal = normalStream(seed);
  const noisy = Uint8Array.from(small);
  for (let i = 0; i < small.length; i += 3) {
    const grain = sigma * normal();
    for (let c = 0; c < 3; c++) noisy[i + c] = Math.min(255, Math.max(0, Math.round(small[i + c] + grain)));
  }
  writeFileSync(file, await sharp(noisy, { raw }).jpeg({ quality }).toBuffer());
  return file;
}

/** Width of a face against the side of the frame it is laid straight in. */
export const FACE = 0.68;
/** What surrounds the frame, in parts of its side: detectors want to see a head in a picture. */
const ROUND = 1;

/** Held-out faces. @throws where they were not made. */
export const facesFolder = (): string => {
  const at = path.join(FOLDER, 'faces');
  if (!existsSync(at)) throw new Error(`${at} is missing; "./run train held-out" makes it`);
  return at;
};

/** A face laid straight, with what surrounds it: where its frame lies in it, in pixels. */
export type FramedFace = Pick<Trial, 'truth' | 'left' | 'top' | 'side'>;

/** A held-out face at twice a width; undefined where it is not large enough to judge by. */
export async function framedFace(name: string, width: number): Promise<FramedFace | undefined> {
  const file = path.join(facesFolder(), name);
  const own = (await sharp(file).metadata()).width;
  const side = 4 * Math.round((2 * width) / FACE / 4);
  // Enlarged by a third at most: beyond that there is nothing to judge by.
  if (side > 1.34 * own) return undefined;
  const left = 2 * Math.round((ROUND * side) / 2);
  const { data, info } = await sharp(await sharp(file).removeAlpha().resize(side, side, { kernel: 'cubic' }).png().toBuffer())
    .extend({ ...{ top: left, bottom: left, left, right: left }, extendWith: 'copy' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { truth: { data: new Uint8Array(data), width: info.width, height: info.height }, left, top: left, side };
}

/** A held-out face of that width, damaged; undefined where it is not large enough to judge by. */
export async function trial(name: string, width: number, damage: FaceDamage, work: string): Promise<Trial | undefined> {
  const framed = await framedFace(name, width);
  if (!framed) return undefined;
  const at = path.join(work, `${width}-${damage.grain}-${name.replace('.png', '.jpg')}`);
  return { name, ...framed, file: await damagedFile(framed.truth, damage, width, at), damage };
}

/** The damaged picture enlarged plainly. */
export async function enlargedPlainly({ file, truth }: Trial): Promise<Rgb> {
  const data = await sharp(await sharp(file).toColourspace('srgb').resize(truth.width, truth.height, { kernel: 'cubic' }).png().toBuffer())
    .removeAlpha()
    .raw()
    .toBuffer();
  return { ...truth, data: new Uint8Array(data) };
}

/** Whether a plan has Faces, and the pictures it restores all of them by. */
export interface Restoring {
  restore: boolean;
  by?: readonly LaidPicture[];
}

/** What plans make of a damaged picture, at twice its size. */
export async function made(
  source: Picture,
  faces: Faces,
  { grain, quality }: FaceDamage,
  { restore, by = [] }: Restoring,
): Promise<Picture> {
  // What is remembered of a picture goes by its name.
  const named = new Map(
    by.map((picture) => [
      createHash('sha256')
        .update(picture.data)
        .update(picture.mesh ?? '')
        .digest('hex'),
      picture,
    ]),
  );
  const references = faces.faces.map(({ x, y, width, height }) => ({
    ...{ x: x + width / 2, y: y + height / 2 },
    pictures: [...named.keys()].map((picture) => ({ picture, use: 'chosen' as const })),
  }));
  const steps = [
    { treatment: 'compression', on: grain > 0, settings: { quality: 'best', coding: jpegStep(quality) } },
    { treatment: 'grain', on: grain > 0, settings: { quality: 'best', luma: grain, chroma: 0, keep: 0 } },
    { treatment: 'upscale', on: true, settings: { quality: 'best', target: 'factor', factor: 2 } },
    {
      treatment: 'faces',
      on: restore,
      settings: {
        noise: Math.max(grain, 0.5),
        coding: jpegStep(quality),
        ...(by.length && { references: faceReferencesText(references) }),
      },
    },
  ];
  const plan = readPlan({ format: 'wairetic-plan', version: 2, steps });
  const info = source.info;
  const { output } = compile(
    plan,
    { info, key: `${Math.random()}`, frame: (_, region) => Promise.resolve(cutPicture(source, region)) },
    {
      cache: new PictureCache(0),
      analysis: () => ({ hash: 'found', value: faces }),
      ...(by.length && { picture: (name: string) => Promise.resolve(named.get(name) as LaidPicture) }),
    },
  );
  return output.frame(0, wholeRegion(output.stream));
}

/** How much a place of the frame counts: all of the face, or eyes and mouth alone. */
const FEATURES = [
  { x: FRAME[0], y: FRAME[1], w: 0.13, h: 0.09 },
  { x: FRAME[2], y: FRAME[3], w: 0.13, h: 0.09 },
  { x: 0.5, y: 0.745, w: 0.19, h: 0.1 },
];
export const inFace = (u: number, v: number): boolean => Math.hypot((u - 0.5) / 0.36, (v - 0.53) / 0.44) < 1;
export const inFeatures = (u: number, v: number): boolean => FEATURES.some(({ x, y, w, h }) => Math.hypot((u - x) / w, (v - y) / h) < 1);

/** PSNR of the luma within a part of the frame. */
export function closeness(picture: Rgb, { truth, left, top, side }: Trial, within: (u: number, v: number) => boolean): number {
  let sum = 0,
    count = 0;
  const luma = (data: Uint8Array, i: number): number => 0.299 * data[3 * i] + 0.587 * data[3 * i + 1] + 0.114 * data[3 * i + 2];
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      if (!within((x + 0.5) / side, (y + 0.5) / side)) continue;
      const i = (y + top) * truth.width + x + left;
      sum += (luma(picture.data, i) - luma(truth.data, i)) ** 2;
      count++;
    }
  return 10 * Math.log10((255 * 255 * count) / sum);
}

/** Writes pictures beside one another for a look. */
export async function seenAs(name: string, pictures: Rgb[], { left, top, side }: Trial): Promise<void> {
  const tiles = await Promise.all(
    pictures.map(({ data, width, height }) =>
      sharp(data, { raw: { width, height, channels: 3 } })
        .extract({ left, top, width: side, height: side })
        .resize(256, 256, { kernel: 'nearest' })
        .png()
        .toBuffer(),
    ),
  );
  await sharp({ create: { width: 256 * tiles.length, height: 256, channels: 3, background: '#000' } })
    .composite(tiles.map((input, n) => ({ input, left: 256 * n, top: 0 })))
    .png()
    .toFile(path.join(process.env.WAIRETIC_SEEN as string, name));
}

/** A picture's bytes. */
export const rgbOf = (picture: Picture): Rgb => ({
  data: toRgb(picture, 8) as Uint8Array,
  ...{ width: picture.region.width, height: picture.region.height },
});
