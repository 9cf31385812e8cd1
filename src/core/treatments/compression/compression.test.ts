import { describe, expect, it } from 'vitest';
import { psnr } from '../../metrics/metrics';
import { wholeRegion, type Plane } from '../../picture/picture';
import { blockCoded, streamInfo, texturedPlane } from '../../testing/pictures';
import { runOver } from '../../testing/plans';
import { reportOf } from '../../testing/reports';
import { compression } from './compression';

const info = streamInfo({ width: 128, height: 96, frames: 1, planes: 1, fieldOrder: 'progressive' });
const truth = texturedPlane(128, 96);
const STEP = 24;
const coded = blockCoded(truth, STEP);

async function treated(settings: Record<string, unknown>, source = coded): Promise<Plane> {
  const run = runOver(info, () => ({ info, region: wholeRegion(info), planes: [source] }), ['compression', settings]);
  return (await run.frame(0, wholeRegion(info))).planes[0];
}

/** Mean step across the edges of the 8 x 8 blocks, against steps elsewhere. */
function blocking({ width, height, data }: Plane): number {
  const sums = [0, 0],
    counts = [0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 1; x < width; x++) {
      const at = x % 8 === 0 ? 0 : 1;
      sums[at] += Math.abs(data[y * width + x] - data[y * width + x - 1]);
      counts[at]++;
    }
  }
  return sums[0] / counts[0] / (sums[1] / counts[1]);
}

describe('Compression', () => {
  it.each(['fast', 'best'])('%s brings a coded picture nearer to what it was, and its blocks go', async (quality) => {
    const made = await treated({ quality, coding: STEP });
    expect(psnr(made, truth)).toBeGreaterThan(psnr(coded, truth) + 0.3);
    expect(Math.abs(blocking(made) - blocking(truth))).toBeLessThan(Math.abs(blocking(coded) - blocking(truth)) * 0.6);
  });

  it('leaves the picture alone when it is told of no coding, or to keep all', async () => {
    expect((await treated({ coding: 0 })).data).toEqual(coded.data);
    expect((await treated({ coding: STEP, keep: 100 })).data).toEqual(coded.data);
    const best = await treated({ quality: 'best', coding: STEP, keep: 100 });
    expect(best.data).toEqual(coded.data);
  });

  it('keeps the share it is asked to keep', async () => {
    const all = await treated({ coding: STEP, keep: 0 }),
      half = await treated({ coding: STEP, keep: 50 });
    half.data.forEach((v, i) => expect(Math.abs(v - (all.data[i] + coded.data[i]) / 2)).toBeLessThan(40));
  });

  it('has the neighbouring frames of a clip help the best choice', () => {
    const clip = { ...info, frames: 9 };
    const best = { quality: 'best', coding: STEP, keep: 0 } as const;
    expect(compression.networks?.(best, info)).toEqual(['clean']);
    expect(compression.networks?.(best, clip)).toEqual(['temporal']);
    expect(compression.steering?.(best, clip)?.moving).toBe(true);
    expect(compression.networks?.({ ...best, quality: 'fast' }, clip)).toEqual([]);
  });

  it('is proposed with the step that was measured, and switched on where it shows', () => {
    expect(compression.propose(reportOf({ coding: 3 }), info)).toBeUndefined();
    expect(compression.propose(reportOf({ coding: 7.3 }), info)).toEqual({ on: false, settings: { coding: 7.5 } });
    expect(compression.propose(reportOf({ coding: 18 }), info)).toEqual({ on: true, settings: { coding: 18 } });
  });
});
