import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Cancelled, outputStream, readPlan } from '../core';
import { streamInfo } from '../core/testing/pictures';
import { probe } from '../media/probe';
import { bandsOf, makeBand, sharedSamples, writeBanded } from './bands';
import { renderSegment, type SegmentTask } from './segment';

const plan = readPlan({
  format: 'wairetic-plan',
  version: 2,
  steps: [
    { id: 'grain', treatment: 'grain', on: true, settings: { luma: 6 } },
    { id: 'size', treatment: 'upscale', on: true, settings: { target: 'factor', factor: 2 } },
  ],
});

let root = '';
let task: SegmentTask;

beforeAll(async () => {
  root = mkdtempSync(path.join(tmpdir(), 'wairetic-bands-'));
  const file = path.join(root, 'print.png');
  const noise = { type: 'gaussian' as const, mean: 120, sigma: 30 };
  await sharp({ create: { width: 160, height: 301, channels: 3, background: '#777', noise } })
    .png()
    .toFile(file);
  const probed = await probe(file);
  task = {
    source: { path: file, key: 'print', probed, info: probed.facts.stream },
    ...{ plan, first: 0, count: 1, ppi: 300, shared: new SharedArrayBuffer(8) },
  };
});
afterAll(() => rmSync(root, { recursive: true }));

describe('a still made in bands', () => {
  it('is covered by them once, in their order, for any size and number of threads', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1000, max: 5000 }),
        fc.integer({ min: 1000, max: 5000 }),
        fc.integer({ min: 1, max: 8 }),
        (width, height, threads) => {
          const bands = bandsOf(plan, streamInfo({ width, height, frames: 1 }), threads);
          if (width * height < 3_000_000) {
            expect(bands).toEqual([]);
            return;
          }
          expect(bands.length).toBeLessThanOrEqual(threads);
          expect(bands.map(({ y }) => y)).toEqual(bands.map((_, n) => bands.slice(0, n).reduce((sum, band) => sum + band.height, 0)));
          expect(bands.reduce((sum, band) => sum + band.height, 0)).toBe(height);
          expect(bands.every((band) => band.width === width && band.height > 0)).toBe(true);
        },
      ),
    );
  });

  it('is one piece where it is small, very large, or a film', () => {
    for (const info of [
      { width: 900, height: 600, frames: 1 },
      { width: 12000, height: 8000, frames: 1 },
      { width: 3000, height: 2000, frames: 9 },
    ])
      expect(bandsOf(plan, streamInfo(info), 2)).toEqual([]);
  });

  it('is the same file as made in one, wherever the bands meet', async () => {
    const still = { kind: 'png' as const, space: 'source' as const };
    const at = (name: string): string => path.join(root, name);
    await renderSegment({ ...task, master: { path: at('whole.png'), still } });
    const output = outputStream(plan, task.source.info);
    const samples = sharedSamples(output);
    const meets = [0, 94, 257, output.height];
    await Promise.all(
      meets
        .slice(1)
        .map((end, n) => makeBand({ ...task, samples, band: { x: 0, y: meets[n], width: output.width, height: end - meets[n] } })),
    );
    await writeBanded({ ...task, output, samples, master: { path: at('bands.png'), still } });
    expect(readFileSync(at('bands.png')).equals(readFileSync(at('whole.png')))).toBe(true);
  });

  it('stops when it is no longer wanted', async () => {
    const shared = new SharedArrayBuffer(8);
    Atomics.store(new Int32Array(shared), 1, 1);
    const output = outputStream(plan, task.source.info);
    const band = { x: 0, y: 0, width: output.width, height: 100 };
    await expect(makeBand({ ...task, shared, samples: sharedSamples(output), band })).rejects.toThrow(Cancelled);
  });
});
