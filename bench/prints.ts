import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { findDirt } from '../src/core/dirt/find';
import { DIRT_KINDS } from '../src/core/dirt/kinds';
import { dirtMask } from '../src/core/dirt/mask';
import { mendDamage } from '../src/core/dirt/mend';
import { fillWithGrain } from '../src/core/fill/grain';
import { dilated, type Hole } from '../src/core/fill/hole';
import { median } from '../src/core/metrics/median';
import { ssim } from '../src/core/metrics/metrics';
import { wholeRegion, type Picture, type StreamInfo } from '../src/core/picture/picture';
import { streamInfo } from '../src/core/testing/pictures';
import { DirtSettings, dirtRule } from '../src/core/treatments/dirt/dirt';
import type { Quality } from '../src/core/treatments/quality';
import { PEAK } from './held';
import { inpainted, piecesOfMask } from './opencv';
import type { Row } from './table';

/** Where the training's made data and the held-out pictures lie. */
export const FOLDER = process.env.WAIRETIC_TRAINING ?? path.resolve(import.meta.dirname, '../training/made');
const MADE = '"./run train held-out" makes them';

/** A PNG, by its name or its bytes, as a full-range Y'CbCr picture of which every pixel has its chroma. */
export async function readPicture(file: string | Buffer): Promise<Picture> {
  const { data, info } = await sharp(file).toColourspace('srgb').removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const { width, height, channels } = info;
  const size = width * height;
  const planes = [0, 1, 2].map(() => new Uint16Array(size));
  for (let i = 0; i < size; i++) {
    const [r, g, b] = [0, 1, 2].map((c) => data[channels * i + Math.min(c, channels - 1)]);
    const y = 0.299 * r + 0.587 * g + 0.114 * b;
    [y, 128 + (b - y) * 0.564334, 128 + (r - y) * 0.713267].forEach((v, p) => (planes[p][i] = Math.round(v * 256)));
  }
  const stream: StreamInfo = streamInfo({
    ...{ width, height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });
  return { info: stream, region: wholeRegion(stream), planes: planes.map((plane) => ({ width, height, data: plane })) };
}

/** What is judged by itself: the kinds, and of stains, which are many things, each that counts as one; plain ones are spilled. */
export const DIRT_SORTS = [...DIRT_KINDS, 'mould'] as const;
export const SORTS = [...DIRT_SORTS, 'silvering'] as const;
export type Sort = (typeof SORTS)[number];

/** A held-out picture with damage of one sort. */
interface DamagedPrint {
  name: string;
  sort: Sort;
  damaged: Picture;
  whole: Picture;
  /** 2 where it is damaged, 1 where that may be disputed, 0 elsewhere. */
  truth: Uint8Array;
}

/** Small prints and coarse scans, or parts of scans at 300 to 600 dots an inch. */
export type Prints = 'prints' | 'scans';

/** @param sorts those that are wanted. */
export async function* prints(of: Prints = 'prints', sorts: readonly Sort[] = SORTS): AsyncGenerator<DamagedPrint> {
  const folder = path.join(FOLDER, of);
  if (!existsSync(folder)) throw new Error(`${folder} is missing: the bench of prints needs damaged pictures; ${MADE}`);
  for (const file of readdirSync(folder).sort()) {
    const [, name, drawn] = /^(\d+)-(\w+)\.png$/.exec(file) ?? [];
    const sort = sorts.find((each) => each === drawn);
    if (!name || !sort) continue;
    const mask = await sharp(path.join(folder, `${name}-${sort}-mask.png`))
      .extractChannel(0)
      .raw()
      .toBuffer();
    const truth = Uint8Array.from(mask, (v) => (v === 255 ? 2 : v > 0 ? 1 : 0));
    if (!truth.includes(2)) continue;
    const [damaged, whole] = await Promise.all([file, `${name}.png`].map((f) => readPicture(path.join(folder, f))));
    yield { name, sort, damaged, whole, truth };
  }
}

export const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / Math.max(1, values.length);

/** F1 over pixels with a tolerance of one: what is found lies on damage or beside it, and damage has found pixels on it or beside it. */
export function f1(found: Uint8Array, truth: Uint8Array, width: number, height: number): number {
  const allowed = dilated(
    truth.map((v) => (v > 0 ? 1 : 0)),
    width,
    height,
    1,
  );
  const near = dilated(found, width, height, 1);
  let right = 0,
    wrong = 0,
    hit = 0,
    damaged = 0;
  for (let i = 0; i < truth.length; i++) {
    if (found[i] && allowed[i]) right++;
    else if (found[i]) wrong++;
    if (truth[i] === 2) {
      damaged++;
      hit += near[i];
    }
  }
  const precision = right / Math.max(1, right + wrong),
    recall = hit / Math.max(1, damaged);
  return precision + recall > 0 ? (2 * precision * recall) / (precision + recall) : 0;
}

/** Pixels of a piece of damage that counts; the share of it that is found where it is seen at all, and where nothing of it is left. */
const PIECE = 12,
  SEEN = 0.3,
  WHOLE = 0.97;

/** How many pieces of damage are seen, and of how many of them a rest is left that shows where they were mended. */
async function leftOver(found: Uint8Array, truth: Uint8Array, width: number, height: number): Promise<{ seen: number; left: number }> {
  const near = dilated(found, width, height, 1);
  const surely = truth.map((v) => Number(v === 2));
  const shares = (await piecesOfMask(surely, width, height))
    .filter(({ length }) => length >= PIECE)
    .map((places) => mean(places.map((i) => near[i])))
    .filter((share) => share >= SEEN);
  return { seen: shares.length, left: shares.filter((share) => share < WHOLE).length };
}

/** Damage found as Dirt finds it untouched, and false alarms on the same pictures without damage. */
export async function dirtFound(): Promise<Row[]> {
  return [
    ...(await foundIn('scans', 'Prints: damage found, parts of scans at 300 to 600 dots an inch (held-out pictures, drawn damage)')),
    ...(await foundIn('prints', 'Prints: damage found, small prints and coarse scans (held-out pictures, drawn damage)')),
  ];
}

async function foundIn(of: Prints, group: string): Promise<Row[]> {
  const rule = { ...dirtRule(new DirtSettings()), margin: 0 };
  const bySort = new Map<Sort, number[]>();
  const alarms = new Map<string, number>();
  let seen = 0,
    left = 0;
  for await (const { name, sort, damaged, whole, truth } of prints(of, DIRT_SORTS)) {
    const { width, height } = damaged.region;
    const found = dirtMask(await findDirt(damaged, damaged.region), rule, damaged.planes[0].data);
    bySort.set(sort, [...(bySort.get(sort) ?? []), f1(found, truth, width, height)]);
    const pieces = await leftOver(found, truth, width, height);
    seen += pieces.seen;
    left += pieces.left;
    if (!alarms.has(name)) {
      const clean = dirtMask(await findDirt(whole, whole.region), rule, whole.planes[0].data);
      alarms.set(name, (100 * clean.reduce((sum, v) => sum + v, 0)) / clean.length);
    }
  }
  const means = [...bySort].map(([sort, scores]) => ({ sort, score: mean(scores), worst: Math.min(...scores) }));
  const overall = mean(means.map((m) => m.score));
  const shares = [...alarms.values()];
  return [
    {
      group,
      what: 'F1, mean of all that follow',
      shown: overall.toFixed(3),
      value: overall,
      atLeast: 0.85,
    },
    ...means.map(({ sort, score, worst }): Row => ({
      group,
      what: `F1, ${sort}`,
      shown: `${score.toFixed(3)} (worst picture ${worst.toFixed(2)})`,
      value: score,
      atLeast: 0.7,
    })),
    { group, what: 'pieces that are seen of which a rest is left, %', shown: `${((100 * left) / seen).toFixed(1)} (${left} of ${seen})` },
    { group, what: 'false alarms, mean of pictures, % of pixels', shown: mean(shares).toFixed(3), value: mean(shares), atMost: 0.05 },
    { group, what: 'false alarms, worst picture, % of pixels', shown: Math.max(...shares).toFixed(2) },
  ];
}

/** PSNR of luma inside a mask, in decibels. */
export function psnrIn(made: ArrayLike<number>, truth: ArrayLike<number>, mask: Uint8Array): number {
  let sum = 0,
    count = 0;
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i]) continue;
    sum += (made[i] - truth[i]) ** 2;
    count++;
  }
  return 10 * Math.log10(PEAK ** 2 / (sum / count + 65));
}

interface Mended {
  psnr: number;
  ssim: number;
}

/** Deviation of what is fine inside a mask, in codes: each sample against those beside it. */
function fineIn(luma: ArrayLike<number>, mask: Uint8Array, width: number): number {
  let sum = 0,
    count = 0;
  for (let i = width + 1; i < mask.length - width - 1; i++) {
    if (!mask[i]) continue;
    sum += (luma[i] - (luma[i - 1] + luma[i + 1] + luma[i - width] + luma[i + width]) / 4) ** 2;
    count++;
  }
  return Math.sqrt(sum / Math.max(1, count)) / 256;
}

/** Codes of fine detail from which what lacks it is seen. */
const GRAINY = 1;

/** Damage whose mask is known, mended by both qualities, against OpenCV's fills with the same mask. */
export async function dirtMended(): Promise<Row[]> {
  const gains: Record<Quality, { sort: Sort; psnr: number; ssim: number; fine: number | undefined }[]> = { fast: [], best: [] };
  let touched = 0;
  for await (const { sort, damaged, whole, truth } of prints()) {
    const { width, height } = damaged.region;
    const missing = dilated(
      truth.map((v) => (v > 0 ? 1 : 0)),
      width,
      height,
      1,
    );
    const [luma] = whole.planes;
    const judged = (made: Uint16Array): Mended => ({
      psnr: psnrIn(made, luma.data, missing),
      // Outside of the mask all are the same: what SSIM loses, it loses inside.
      ssim: ssim({ width, height, data: made.map((v, i) => (missing[i] ? v : luma.data[i])) }, luma, PEAK),
    });
    const others = Object.values(await inpainted({ width, height, planes: damaged.planes.map((p) => p.data), missing })).map(([l]) =>
      judged(l),
    );
    const base = { psnr: Math.max(...others.map((o) => o.psnr)), ssim: Math.max(...others.map((o) => o.ssim)) };
    for (const quality of ['fast', 'best'] as const) {
      const damage = { region: damaged.region, missing, ...(sort === 'stains' && { veiled: missing }) };
      const made = await mendDamage(damaged, damage, damaged.region, { quality, seeThrough: true });
      const own = judged(made.planes[0].data);
      const fine = fineIn(luma.data, missing, width);
      gains[quality].push({
        ...{ sort, psnr: own.psnr - base.psnr, ssim: own.ssim - base.ssim },
        fine: fine < GRAINY ? undefined : fineIn(made.planes[0].data, missing, width) / fine,
      });
      made.planes.forEach((plane, p) => plane.data.forEach((v, i) => (touched += !missing[i] && v !== damaged.planes[p].data[i] ? 1 : 0)));
    }
  }
  const group = "Prints: damage mended, over the better of OpenCV's Telea and Navier-Stokes";
  const signed = (v: number, digits: number): string => `${v >= 0 ? '+' : ''}${v.toFixed(digits)}`;
  const rows = (['fast', 'best'] as const).flatMap((quality): Row[] => {
    const all = gains[quality];
    return [
      {
        group,
        what: `${quality}, dB inside the damage`,
        shown: signed(mean(all.map((g) => g.psnr)), 2),
        value: mean(all.map((g) => g.psnr)),
        ...(quality === 'best' && { atLeast: 3 }),
      },
      {
        group,
        what: `${quality}, SSIM`,
        shown: signed(mean(all.map((g) => g.ssim)), 4),
        value: mean(all.map((g) => g.ssim)),
        ...(quality === 'best' && { atLeast: 0 }),
      },
      fineRow(
        quality,
        all.flatMap((g) => g.fine ?? []),
      ),
      ...SORTS.map((sort): Row => {
        const own = all.filter((g) => g.sort === sort).map((g) => g.psnr);
        return { group, what: `${quality}, ${sort}, dB`, shown: `${signed(mean(own), 2)} (worst picture ${signed(Math.min(...own), 2)})` };
      }),
    ];
  });
  return [...rows, { group, what: 'samples changed outside the mask', shown: `${touched}`, value: touched, atMost: 0 }];

  function fineRow(quality: Quality, shares: number[]): Row {
    const value = median(shares);
    const few = shares.filter((share) => share < 0.5 * value).length;
    return {
      ...{ group, what: `${quality}, grain and detail inside over the truth’s, middle picture` },
      ...{ shown: `${value.toFixed(2)} (under half of that: ${few} of ${shares.length})`, value, atLeast: 0.8 },
    };
  }
}

/** Share of a picture that is taken out of it. */
const HOLE = 0.05;
/** Scales and directions in which texture is compared. */
const SCALES = 3,
  DIRECTIONS = [
    [1, 0],
    [0, 1],
    [1, 1],
    [1, -1],
  ];

/** Strength of a plane's second differences inside a mask, at several scales and in four directions, as logarithms to base two. */
function textureOf(plane: Uint16Array, mask: Uint8Array, width: number, height: number): number[] {
  const out: number[] = [];
  let [data, inside, w, h] = [Float32Array.from(plane, (v) => v / 256), mask, width, height];
  for (let scale = 0; scale < SCALES; scale++) {
    for (const [dx, dy] of DIRECTIONS) {
      let sum = 0,
        count = 0;
      for (let y = 1; y < h - 1; y++) {
        for (let x = 1; x < w - 1; x++) {
          const i = y * w + x;
          if (!inside[i]) continue;
          sum += (2 * data[i] - data[i + dx + dy * w] - data[i - dx - dy * w]) ** 2;
          count++;
        }
      }
      out.push(Math.log2(1 + sum / Math.max(1, count)));
    }
    const [hw, hh, from, own] = [w >> 1, h >> 1, data, inside];
    const at = (i: number): number => 2 * Math.floor(i / hw) * w + 2 * (i % hw);
    const width2 = w;
    data = Float32Array.from(
      { length: hw * hh },
      (_, i) => (from[at(i)] + from[at(i) + 1] + from[at(i) + width2] + from[at(i) + width2 + 1]) / 4,
    );
    inside = Uint8Array.from({ length: hw * hh }, (_, i) => own[at(i)] & own[at(i) + 1] & own[at(i) + width2] & own[at(i) + width2 + 1]);
    [w, h] = [hw, hh];
  }
  return out;
}

/** Holes of a twentieth of textures and photographs filled, against OpenCV's fills. */
export async function objectsRemoved(): Promise<Row[]> {
  const folder = path.join(FOLDER, 'held');
  if (!existsSync(folder)) throw new Error(`${folder} is missing; ${MADE}`);
  const results: { psnr: number; texture: number }[] = [];
  const files = readdirSync(folder).filter((f) => /^(photograph|texture)/.test(f));
  for (const [n, file] of files.sort().entries()) {
    const picture = await readPicture(path.join(folder, file));
    const { width, height } = picture.region;
    if (Math.min(width, height) < 200) continue;
    const middle = { x: width * (0.35 + 0.03 * ((7 * n) % 10)), y: height * (0.35 + 0.03 * ((3 * n) % 10)) };
    const radius = Math.sqrt((HOLE * width * height) / Math.PI);
    const missing = Uint8Array.from({ length: width * height }, (_, i) =>
      Math.hypot(((i % width) - middle.x) / 1.2, (Math.floor(i / width) - middle.y) * 1.2) < radius ? 1 : 0,
    );
    const truth = picture.planes[0].data;
    const hole: Hole = { width, height, missing, planes: picture.planes.map(({ data }) => data.map((v, i) => (missing[i] ? 32768 : v))) };
    const known = textureOf(truth, missing, width, height);
    const judged = ([luma]: Uint16Array[]): { psnr: number; texture: number } => ({
      psnr: psnrIn(luma, truth, missing),
      texture: mean(textureOf(luma, missing, width, height).map((v, k) => Math.abs(v - known[k]))),
    });
    const others = Object.values(await inpainted(hole)).map(judged);
    const own = judged(fillWithGrain(hole, { seed: 1 }));
    results.push({
      psnr: own.psnr - Math.max(...others.map((o) => o.psnr)),
      texture: own.texture / Math.max(0.01, Math.min(...others.map((o) => o.texture))),
    });
  }
  const group = "Prints: a twentieth of the picture removed, over the better of OpenCV's fills";
  const gain = mean(results.map((r) => r.psnr)),
    ratio = mean(results.map((r) => r.texture));
  return [
    {
      group,
      what: 'PSNR in the hole, dB',
      shown: `${gain.toFixed(2)} (worst ${Math.min(...results.map((r) => r.psnr)).toFixed(2)}, best ${Math.max(...results.map((r) => r.psnr)).toFixed(2)})`,
      value: gain,
      atLeast: 1.5,
    },
    {
      group,
      what: 'distance of the texture, ratio',
      shown: `${ratio.toFixed(2)} (worst ${Math.max(...results.map((r) => r.texture)).toFixed(2)})`,
      value: ratio,
      atMost: 0.5,
    },
  ];
}
