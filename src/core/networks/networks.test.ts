import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import fc from 'fast-check';
import { psnr } from '../metrics/metrics';
import { copyPlane, cutPicture, wholeRegion, type Picture } from '../picture/picture';
import { noisyPlane, picture, streamInfo, texturedPlane } from '../testing/pictures';
import { BORDER, CELL, cellInput, cellsCover, cellsOf } from './cells';
import { clean } from './clean';
import { enlargeLuma } from './enlarge';
import { executionProviders, network, networkNames, type Enlarging } from './model';

const NONE = { grainLuma: 0, grainChroma: 0, step: 0, blur: 0, grainSize: 0 };
const ALL = { luma: 1, chroma: 1 };

/** A textured picture, 4:2:0 unless told otherwise, with grain on its luma. */
function grainy(
  width: number,
  height: number,
  sigma: number,
  part: Parameters<typeof streamInfo>[0] = {},
): { truth: Picture; noisy: Picture } {
  const info = streamInfo({ width, height, fieldOrder: 'progressive', frames: 1, ...part });
  const truth = picture(info);
  truth.planes[0] = texturedPlane(width, height);
  return { truth, noisy: { ...truth, planes: [noisyPlane(truth.planes[0], sigma * 256, 3), ...truth.planes.slice(1)] } };
}

describe('cells', () => {
  const frame = { width: 1000, height: 700 };
  it('cover any region with whole cells that do not overlap', () => {
    fc.assert(
      fc.property(fc.nat(900), fc.nat(600), fc.integer({ min: 1, max: 100 }), (x, y, size) => {
        const cover = cellsCover({ x, y, width: size, height: size }, frame);
        const cells = cellsOf(cover, frame);
        expect((cover.x % CELL.width) + (cover.y % CELL.height)).toBe(0);
        expect(cells.reduce((sum, c) => sum + c.width * c.height, 0)).toBe(cover.width * cover.height);
        expect(cover.x <= x && cover.x + cover.width >= x + size).toBe(true);
      }),
    );
  });

  it('are read with a border inside the frame, in multiples of eight', () => {
    for (const cell of cellsOf(wholeRegion(frame), frame)) {
      const part = cellInput(cell, frame);
      expect([part.width % 8, part.height % 8]).toEqual([0, 0]);
      expect(part.x).toBe(Math.max(0, cell.x - BORDER));
      expect(part.x + part.width).toBeGreaterThanOrEqual(Math.min(frame.width, cell.x + cell.width + BORDER));
    }
  });
});

describe('the cleaning network', () => {
  it('takes off the grain it is told of, and leaves the picture alone when told of none', async () => {
    const { truth, noisy } = grainy(160, 120, 12);
    const told = await clean(noisy, wholeRegion(noisy.info), { ...NONE, grainLuma: 12 }, ALL);
    expect(psnr(told.planes[0], truth.planes[0])).toBeGreaterThan(psnr(noisy.planes[0], truth.planes[0]) + 3);
    const untold = await clean(truth, wholeRegion(truth.info), NONE, ALL);
    expect(psnr(untold.planes[0], truth.planes[0])).toBeGreaterThan(38);
  });

  it('gives every part as it is in the whole, whatever else was asked', async () => {
    const { noisy } = grainy(800, 300, 8);
    const whole = await clean(noisy, wholeRegion(noisy.info), { ...NONE, grainLuma: 8 }, ALL);
    const cover = cellsCover({ x: 500, y: 40, width: 30, height: 20 }, noisy.info);
    const source = cutPicture(noisy, { x: cover.x - BORDER, y: 0, width: 800 - cover.x + BORDER, height: 280 });
    const part = await clean(source, cover, { ...NONE, grainLuma: 8 }, ALL);
    expect(part.planes).toEqual(cutPicture(whole, cover).planes);
  });

  it('shows no seam where cells meet', async () => {
    const { noisy } = grainy(800, 280, 8);
    const out = (await clean(noisy, wholeRegion(noisy.info), { ...NONE, grainLuma: 8 }, ALL)).planes[0];
    const step = (x: number): number => {
      let sum = 0;
      for (let y = 0; y < out.height; y++) sum += Math.abs(out.data[y * out.width + x] - out.data[y * out.width + x - 1]);
      return sum;
    };
    const others = [...Array(60).keys()].map((i) => step(CELL.width - 30 + i)).sort((a, b) => a - b);
    expect(step(CELL.width)).toBeLessThan(others[59] * 1.05);
  });

  it('is steered by a plane pixel by pixel', async () => {
    const { noisy } = grainy(160, 120, 12);
    const values = Float32Array.from({ length: 160 * 120 }, (_, i) => (i % 160 < 80 ? 12 : 0));
    const out = await clean(noisy, wholeRegion(noisy.info), { ...NONE, grainLuma: { region: wholeRegion(noisy.info), values } }, ALL);
    const change = (from: number, to: number): number => {
      let sum = 0;
      for (let i = 0; i < values.length; i++)
        if (i % 160 >= from && i % 160 < to) sum += Math.abs(out.planes[0].data[i] - noisy.planes[0].data[i]);
      return sum;
    };
    expect(change(0, 70)).toBeGreaterThan(4 * change(90, 160));
  });

  it('takes monochrome, 4:4:4 and uneven sizes', async () => {
    for (const part of [{ planes: 1 as const }, { chromaShiftX: 0, chromaShiftY: 0 }, {}]) {
      const { noisy } = grainy(101, 67, 6, part);
      const out = await clean(noisy, wholeRegion(noisy.info), { ...NONE, grainLuma: 6, grainChroma: 6 }, ALL);
      expect(out.planes.map((p) => [p.width, p.height])).toEqual(noisy.planes.map((p) => [p.width, p.height]));
    }
  });
});

describe('the enlarging network', () => {
  const NO_DAMAGE = { grain: 0, step: 0, blur: 0 };
  const enlarged = networkNames()
    .filter((name) => name.startsWith('enlarge'))
    .flatMap((name) => ([2, 4] as const).map((factor): [Enlarging, 2 | 4] => [name.slice('enlarge-'.length) as Enlarging, factor]));

  it.each(enlarged)('for %s gives a picture of the right size and level at %i x', async (content, factor) => {
    const plane = texturedPlane(96, 64);
    const frame = wholeRegion(plane);
    const out = await enlargeLuma({ plane, region: frame, frame: plane }, frame, factor, content, NO_DAMAGE);
    expect(out.length).toBe(96 * 64 * factor ** 2);
    const mean = (list: ArrayLike<number>): number => Array.from(list).reduce((a, b) => a + b, 0) / list.length;
    expect(Math.abs(mean(out) * 65535 - mean(plane.data)) / 256).toBeLessThan(1.5);
  });

  it('gives every cell as it is in the whole, at the second pass too, on uneven sizes', async () => {
    const plane = texturedPlane(450, 271);
    const whole = await enlargeLuma({ plane, region: wholeRegion(plane), frame: plane }, wholeRegion(plane), 4, 'live', NO_DAMAGE);
    const cover = cellsCover({ x: 400, y: 260, width: 5, height: 5 }, plane);
    const region = { x: cover.x - BORDER, y: cover.y - BORDER, width: 450 - cover.x + BORDER, height: 271 - cover.y + BORDER };
    const seen = { plane: copyPlane(plane, region.x, region.y, region.width, region.height), region, frame: plane };
    const part = await enlargeLuma(seen, cover, 4, 'live', NO_DAMAGE);
    const width = cover.width * 4;
    const off = part.findIndex((v, i) => v !== whole[(cover.y * 4 + Math.floor(i / width)) * 1800 + cover.x * 4 + (i % width)]);
    expect(off).toBe(-1);
  });
});

describe('model files', () => {
  let folder: string;
  beforeEach(() => {
    folder = mkdtempSync(path.join(tmpdir(), 'wairetic-models-'));
    vi.stubEnv('WAIRETIC_MODELS', folder);
  });
  afterEach(() => {
    vi.unstubAllEnvs();
    rmSync(folder, { recursive: true });
  });

  it('missing or broken are said so in words', async () => {
    await expect(network('fields')).rejects.toThrow(/no card/);
    cpSync('models/fields.json', path.join(folder, 'fields.json'));
    await expect(network('fields')).rejects.toThrow(/missing at .*Choose "fast"/);
    const bytes = readFileSync('models/fields.onnx');
    bytes[1000] ^= 1;
    writeFileSync(path.join(folder, 'fields.onnx'), bytes);
    await expect(network('fields')).rejects.toThrow(/damaged: its SHA-256/);
  });

  it('run only where this build can', async () => {
    vi.stubEnv('WAIRETIC_PROVIDERS', 'abacus');
    await expect(executionProviders()).rejects.toThrow(/"abacus"; networks can run on .*cpu/);
  });
});
