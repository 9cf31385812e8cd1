import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { describer, descriptorDistance } from '../src/core/faces/descriptors';
import { findFaces, type Faces } from '../src/core/faces/find';
import { FRAME } from '../src/core/faces/frame';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import { toRgb } from '../src/core/picture/matrix';
import { cutPicture, wholeRegion, type Picture } from '../src/core/picture/picture';
import { normalStream } from '../src/core/picture/random';
import { readPlan } from '../src/core/plan/read';
import type { Rgb } from '../src/core/vision/rgb';
import { jpegStep } from './coding';
import { FOLDER } from './prints';
import { pictureOf } from './subject';
import type { Row } from './table';

/** Widths of faces that are restored, in pixels, and what was done to them. */
const WIDTHS = [24, 32, 48, 64];
const DAMAGE = { blur: 0.7, grain: 8, quality: 50 };
/** Width of a face against the side of the frame it is laid straight in. */
const FACE = 0.68;
/** What surrounds the frame, in parts of its side: detectors want to see a head in a picture. */
const ROUND = 1;

/** A face at twice the size it has in the damaged picture, and that picture. */
interface Trial {
  name: string;
  truth: Rgb;
  /** Where the frame lies in the truth, in pixels. */
  left: number;
  side: number;
  file: string;
}

const folder = (): string => {
  const at = path.join(FOLDER, 'faces');
  if (!existsSync(at)) throw new Error(`${at} is missing; "./run train held-out" makes it`);
  return at;
};

async function trial(name: string, width: number, work: string): Promise<Trial | undefined> {
  const file = path.join(folder(), name);
  const own = (await sharp(file).metadata()).width;
  const side = 4 * Math.round((2 * width) / FACE / 4);
  // Enlarged by a third at most: beyond that there is nothing to judge by.
  if (side > 1.34 * own) return undefined;
  const left = 2 * Math.round((ROUND * side) / 2);
  const { data, info } = await sharp(await sharp(file).removeAlpha().resize(side, side, { kernel: 'cubic' }).png().toBuffer())
    .extend({ ...{ top: left, bottom: left, left, right: left }, extendWith: 'copy' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const truth: Rgb = { data: new Uint8Array(data), width: info.width, height: info.height };
  const small = await sharp(data, { raw: { width: info.width, height: info.height, channels: 3 } })
    .resize(info.width / 2, info.height / 2, { kernel: 'linear' })
    .blur(DAMAGE.blur)
    .raw()
    .toBuffer();
  const normal = normalStream(width);
  const noisy = Uint8Array.from(small);
  for (let i = 0; i < small.length; i += 3) {
    const grain = DAMAGE.grain * normal();
    for (let c = 0; c < 3; c++) noisy[i + c] = Math.min(255, Math.max(0, Math.round(small[i + c] + grain)));
  }
  const at = path.join(work, `${width}-${name.replace('.png', '.jpg')}`);
  writeFileSync(
    at,
    await sharp(noisy, { raw: { width: info.width / 2, height: info.height / 2, channels: 3 } })
      .jpeg({ quality: DAMAGE.quality })
      .toBuffer(),
  );
  return { name, truth, left, side, file: at };
}

/** What plans make of a damaged picture, at twice its size. */
async function made(source: Picture, faces: Faces, restore: boolean, best: boolean): Promise<Picture> {
  const steps = [
    { treatment: 'compression', on: best, settings: { quality: 'best', coding: jpegStep(DAMAGE.quality) } },
    { treatment: 'grain', on: best, settings: { quality: 'best', luma: DAMAGE.grain, chroma: 0, keep: 0 } },
    { treatment: 'upscale', on: true, settings: { quality: best ? 'best' : 'fast', target: 'factor', factor: 2 } },
    { treatment: 'faces', on: restore, settings: { noise: DAMAGE.grain } },
  ];
  const plan = readPlan({ format: 'wairetic-plan', version: 2, steps });
  const info = source.info;
  const { output } = compile(
    plan,
    { info, key: `${Math.random()}`, frame: (_, region) => Promise.resolve(cutPicture(source, region)) },
    { cache: new PictureCache(0), analysis: () => ({ hash: 'found', value: faces }) },
  );
  return output.frame(0, wholeRegion(output.stream));
}

/** How much a place of the frame counts: all of the face, or eyes and mouth alone. */
const FEATURES = [
  { x: FRAME[0], y: FRAME[1], w: 0.13, h: 0.09 },
  { x: FRAME[2], y: FRAME[3], w: 0.13, h: 0.09 },
  { x: 0.5, y: 0.745, w: 0.19, h: 0.1 },
];
const inFace = (u: number, v: number): boolean => Math.hypot((u - 0.5) / 0.36, (v - 0.53) / 0.44) < 1;
const inFeatures = (u: number, v: number): boolean => FEATURES.some(({ x, y, w, h }) => Math.hypot((u - x) / w, (v - y) / h) < 1);

/** PSNR of the luma within a part of the frame. */
function closeness(picture: Rgb, { truth, left, side }: Trial, within: (u: number, v: number) => boolean): number {
  let sum = 0,
    count = 0;
  const luma = (data: Uint8Array, i: number): number => 0.299 * data[3 * i] + 0.587 * data[3 * i + 1] + 0.114 * data[3 * i + 2];
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      if (!within((x + 0.5) / side, (y + 0.5) / side)) continue;
      const i = (y + left) * truth.width + x + left;
      sum += (luma(picture.data, i) - luma(truth.data, i)) ** 2;
      count++;
    }
  return 10 * Math.log10((255 * 255 * count) / sum);
}

const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

export async function facesRestored(work: string): Promise<Row[]> {
  const names = readdirSync(folder())
    .filter((name) => /^(real|mixed)-/.test(name))
    .sort();
  const describe = await describer('residual');
  const rows: Row[] = [];
  const nearer: number[] = [];
  mkdirSync(work, { recursive: true });
  for (const width of WIDTHS) {
    const gains: { face: number; features: number }[] = [];
    let seen = 0,
      all = 0;
    for (const name of names) {
      const one = await trial(name, width, work);
      if (!one) continue;
      all++;
      const source = await pictureOf(one.file);
      const faces = await findFaces(source);
      if (faces.faces.length === 0) continue;
      seen++;
      const rgb = (picture: Picture): Rgb => ({
        data: toRgb(picture, 8) as Uint8Array,
        width: picture.region.width,
        height: picture.region.height,
      });
      const enlarged = await sharp(
        await sharp(one.file).toColourspace('srgb').resize(one.truth.width, one.truth.height, { kernel: 'cubic' }).png().toBuffer(),
      )
        .removeAlpha()
        .raw()
        .toBuffer();
      const plain: Rgb = { ...one.truth, data: new Uint8Array(enlarged) };
      const before = rgb(await made(source, faces, false, true)),
        after = rgb(await made(source, faces, true, true));
      if (process.env.WAIRETIC_SEEN) await seenAs(`${width}-${name}`, [plain, before, after, one.truth], one);
      const gain = (within: typeof inFace): number =>
        closeness(after, one, within) - Math.max(closeness(plain, one, within), closeness(before, one, within));
      gains.push({ face: gain(inFace), features: gain(inFeatures) });
      const frame = { a: one.side, b: 0, x: one.left, y: one.left };
      const truth = await describe.at(one.truth, frame);
      const off = async (picture: Rgb): Promise<number> => descriptorDistance(truth, await describe.at(picture, frame));
      nearer.push((await off(after)) / (await off(before)));
    }
    const group = `Faces: ${width} px wide, blurred, grain 8, JPEG 50, made twice as large, over the better of bicubic and the plan without Faces, dB`;
    const row = (what: string, values: number[], atLeast?: number): Row => ({
      ...{ group, what, shown: `${mean(values).toFixed(2)} (worst ${Math.min(...values).toFixed(2)})` },
      ...(atLeast !== undefined && { value: mean(values), atLeast }),
    });
    rows.push(
      row(
        'eyes and mouth',
        gains.map((g) => g.features),
        0.7,
      ),
      row(
        'face',
        gains.map((g) => g.face),
        0.4,
      ),
      {
        group,
        what: 'worse by more than 0.1 dB',
        shown: `${gains.filter((g) => g.face < -0.1).length} of ${gains.length}`,
        value: gains.filter((g) => g.face < -0.1).length,
        atMost: 0,
      },
      { group, what: 'found at that size', shown: `${seen} of ${all}`, value: seen / all, atLeast: 0.97 },
    );
  }
  const group = 'Faces: identity, distance to the truth after against before (a descriptor that took no part)';
  rows.push(
    {
      group,
      what: 'nearer',
      shown: `${nearer.filter((v) => v < 1).length} of ${nearer.length}`,
      value: nearer.filter((v) => v < 1).length / nearer.length,
      atLeast: 0.95,
    },
    {
      group,
      what: 'further by more than 3 %',
      shown: `${nearer.filter((v) => v > 1.03).length} of ${nearer.length}`,
      value: nearer.filter((v) => v > 1.03).length,
      atMost: 0,
    },
    { group, what: 'mean distance left', shown: mean(nearer).toFixed(3) },
  );
  return rows;
}

/** Writes pictures beside one another for a look. */
async function seenAs(name: string, pictures: Rgb[], { left, side }: Trial): Promise<void> {
  const tiles = await Promise.all(
    pictures.map(({ data, width, height }) =>
      sharp(data, { raw: { width, height, channels: 3 } })
        .extract({ left, top: left, width: side, height: side })
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
