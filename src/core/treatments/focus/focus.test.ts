import { describe, expect, it } from 'vitest';
import { psnr } from '../../metrics/metrics';
import { newPlane, wholeRegion, type Plane } from '../../picture/picture';
import { streamInfo, texturedPlane } from '../../testing/pictures';
import { runOver } from '../../testing/plans';
import { reportOf } from '../../testing/reports';
import { focus } from './focus';

const info = streamInfo({ width: 128, height: 96, frames: 1, planes: 1, fieldOrder: 'progressive' });

/** Gaussian blur, edges repeated. */
function blurred({ width, height, data }: Plane, sigma: number): Plane {
  const reach = Math.ceil(3 * sigma);
  const taps = Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * sigma * sigma)));
  const sum = taps.reduce((a, b) => a + b);
  const pass = (from: ArrayLike<number>, dx: number, dy: number): number[] =>
    Array.from({ length: from.length }, (_, i) => {
      let v = 0;
      taps.forEach((t, k) => {
        const x = Math.min(width - 1, Math.max(0, (i % width) + (k - reach) * dx)),
          y = Math.min(height - 1, Math.max(0, Math.floor(i / width) + (k - reach) * dy));
        v += (t / sum) * from[y * width + x];
      });
      return v;
    });
  return { width, height, data: Uint16Array.from(pass(pass(data, 1, 0), 0, 1), Math.round) };
}

async function treated(source: Plane, settings: Record<string, unknown>): Promise<Plane> {
  const run = runOver(info, () => ({ info, region: wholeRegion(info), planes: [source] }), ['focus', settings]);
  return (await run.frame(0, wholeRegion(info))).planes[0];
}

const truth = texturedPlane(128, 96);

describe('Focus', () => {
  it.each([
    ['fast', 0.8],
    ['fast', 1.3],
    ['best', 0.8],
    ['best', 1.3],
  ])('%s undoes a blur of %f px it is told of', async (quality, blur) => {
    const soft = blurred(truth, blur);
    expect(psnr(await treated(soft, { quality, blur }), truth)).toBeGreaterThan(psnr(soft, truth) + 1);
  });

  it('draws no outlines along an edge', async () => {
    const edge = newPlane(128, 96);
    edge.data.forEach((_, i) => (edge.data[i] = i % 128 < 64 ? 14000 : 50000));
    for (const quality of ['fast', 'best']) {
      const made = await treated(blurred(edge, 1), { quality, blur: 1 });
      // A tenth of the edge's height.
      expect(Math.max(...made.data)).toBeLessThan(50000 + 3600);
      expect(Math.min(...made.data)).toBeGreaterThan(14000 - 3600);
    }
  });

  it('does nothing without blur or strength, and half at half', async () => {
    const soft = blurred(truth, 1);
    expect((await treated(soft, { blur: 0 })).data).toEqual(soft.data);
    for (const quality of ['fast', 'best']) {
      expect((await treated(soft, { quality, blur: 1, strength: 0 })).data).toEqual(soft.data);
      const [all, half] = await Promise.all([100, 50].map((strength) => treated(soft, { quality, blur: 1, strength })));
      half.data.forEach((v, i) => expect(Math.abs(v - (all.data[i] + soft.data[i]) / 2)).toBeLessThan(60));
    }
  });

  it('is offered with the blur that was measured, and never switched on by itself', () => {
    const proposed = focus.propose(reportOf({ blur: 0.93, grainLuma: 4.23 }), info);
    expect(proposed).toEqual({ on: false, settings: { blur: 0.95, noise: 4.2 } });
  });
});
