import sharp, { type Sharp } from 'sharp';
import type { StillAccess } from '../shared/jobs';
import { accessEncoder } from './stillOutput';

/**
 * What an access copy will take, told from a few of its tiles. Detail lies so unevenly in pictures that tiles drawn blindly are wrong by half; they are
 * drawn as often as a small copy of the whole says that they take bytes, and weighed by it (ratio estimation with probability proportional to
 * size; Cochran, Sampling Techniques, 1977, 9A).
 */

/** Red, green and blue, a byte each. */
export interface Samples {
  data: Uint8Array;
  width: number;
  height: number;
  /** 4 with opacity, which is left out. */
  channels: 3 | 4;
}

/** A tile of the picture, in pixels. */
export interface Tile {
  x: number;
  y: number;
  width: number;
  height: number;
}

export const TILE = 256;
/** Tiles that are drawn. */
export const DRAWN = 32;
/** Quality the small copy is held against itself with. */
const WEIGHING_QUALITY = 92;
/** What the borders between tiles cost, in shares of what it costs to cut them in four and to mix those: as photographs have it. */
const BORDERS = 0.3;
/** Bytes a pixel is thought to take where there is nothing to see. */
const LEAST = 0.002;

const image = ({ data, width, height, channels }: Samples): Sharp =>
  sharp(data, { raw: { width, height, channels }, limitInputPixels: false }).removeAlpha();

/** Tiles of a picture, row by row. */
export function tilesOf({ width, height }: { width: number; height: number }): Tile[] {
  const tiles: Tile[] = [];
  for (let y = 0; y < height; y += TILE)
    for (let x = 0; x < width; x += TILE) tiles.push({ x, y, width: Math.min(TILE, width - x), height: Math.min(TILE, height - y) });
  return tiles;
}

/** What each tile is thought to take, by a small copy of the whole picture. */
export async function weightsOf(small: Samples, whole: { width: number; height: number }): Promise<number[]> {
  const across = small.width / whole.width,
    down = small.height / whole.height;
  const empty = (
    await image({ data: new Uint8Array(3 * 64), width: 8, height: 8, channels: 3 })
      .jpeg({ quality: WEIGHING_QUALITY })
      .toBuffer()
  ).length;
  return Promise.all(
    tilesOf(whole).map(async ({ x, y, width, height }) => {
      const left = Math.min(small.width - 1, Math.round(x * across)),
        top = Math.min(small.height - 1, Math.round(y * down));
      const part = {
        left,
        top,
        width: Math.max(1, Math.min(small.width - left, Math.round(width * across))),
        height: Math.max(1, Math.min(small.height - top, Math.round(height * down))),
      };
      const { length } = await image(small).extract(part).jpeg({ quality: WEIGHING_QUALITY }).toBuffer();
      return Math.max(0, length - empty) + LEAST * width * height;
    }),
  );
}

/** Tiles drawn evenly along the sum of their weights: by number, with how often each was drawn. */
export function drawn(weights: number[], count = DRAWN): Map<number, number> {
  const step = weights.reduce((sum, w) => sum + w, 0) / count;
  const times = new Map<number, number>();
  let sum = 0,
    k = 0;
  weights.forEach((weight, n) => {
    sum += weight;
    while (k < count && sum > (k + 0.5) * step) {
      times.set(n, (times.get(n) ?? 0) + 1);
      k++;
    }
  });
  return times;
}

/** Tiles that were drawn, with their pixels. */
export interface Sample {
  /** Of all tiles. */
  weights: number[];
  tiles: { number: number; times: number; samples: Samples }[];
}

/**
 * Bytes a whole picture will take, from its drawn tiles. A tile alone takes more than its share, for it brings tables of its own and coders learn as they
 * go: how much more is told by the same tiles encoded as one picture.
 */
export async function predictedBytes({ weights, tiles }: Sample, kind: StillAccess, quality: number): Promise<number> {
  const sized = (samples: Samples): Promise<number> => exactBytes(samples, kind, quality);
  const total = weights.reduce((sum, w) => sum + w, 0);
  const draws = tiles.reduce((sum, { times }) => sum + times, 0);
  const header = await sized({ data: new Uint8Array(3 * 64).fill(119), width: 8, height: 8, channels: 3 });
  let ratios = 0;
  const full: { samples: Samples; bytes: number }[] = [];
  for (const { number, times, samples } of tiles) {
    const bytes = Math.max(1, (await sized(samples)) - header);
    ratios += (times * bytes) / weights[number];
    if (samples.width !== TILE || samples.height !== TILE) continue;
    full.push({ samples, bytes });
  }
  // As many as fill whole rows.
  const columns = Math.max(1, Math.floor(Math.sqrt(full.length)));
  const inRows = full.slice(0, columns * Math.floor(full.length / columns));
  const alone = inRows.reduce((sum, { bytes }) => sum + bytes, 0);
  let together = 1;
  if (inRows.length > 1) {
    const picture = joined(
      inRows.map(({ samples }) => samples),
      columns,
    );
    const bytes = await sized(picture);
    // Where tiles meet nothing goes on, and what predicts from neighbours pays for it; how much is told by cutting them smaller.
    const whole = kind === 'jpeg' ? bytes : bytes - BORDERS * ((await sized(dealtOut(picture))) - bytes);
    together = (whole - header) / alone;
  }
  return header + (ratios / draws) * total * together;
}

/** Full tiles in rows of one picture, which they fill. */
function joined(tiles: Samples[], columns: number): Samples {
  const rows = tiles.length / columns;
  const width = columns * TILE,
    height = rows * TILE;
  const data = new Uint8Array(3 * width * height);
  tiles.forEach(({ data: from, channels }, n) => {
    for (let y = 0; y < TILE; y++)
      for (let x = 0; x < TILE; x++) {
        const to = 3 * ((Math.floor(n / columns) * TILE + y) * width + (n % columns) * TILE + x),
          at = channels * (y * TILE + x);
        for (let c = 0; c < 3; c++) data[to + c] = from[at + c];
      }
  });
  return { data, width, height, channels: 3 };
}

/** The picture cut into tiles of half the size, none beside a former neighbour. */
function dealtOut({ data, width, height }: Samples): Samples {
  const half = TILE / 2;
  const columns = width / half,
    count = (columns * height) / half;
  const stride = nearGolden(count);
  const dealt = new Uint8Array(data.length);
  for (let n = 0; n < count; n++) {
    const from = (n * stride) % count;
    for (let y = 0; y < half; y++) {
      const row = (k: number): number => 3 * ((Math.floor(k / columns) * half + y) * width + (k % columns) * half);
      dealt.set(data.subarray(row(from), row(from) + 3 * half), row(n));
    }
  }
  return { data: dealt, width, height, channels: 3 };
}

/** A stride through `count` places that meets each once and jumps far. */
function nearGolden(count: number): number {
  const common = (a: number, b: number): number => (b ? common(b, a % b) : a);
  let stride = Math.max(1, Math.round(count * 0.618));
  while (common(stride, count) !== 1) stride++;
  return stride;
}

/** Bytes of a picture that is known whole. */
export const exactBytes = async (samples: Samples, kind: StillAccess, quality: number): Promise<number> =>
  (await accessEncoder(image(samples), kind, quality).toBuffer()).length;
