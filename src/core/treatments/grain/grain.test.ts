import { describe, expect, it } from 'vitest';
import { psnr } from '../../metrics/metrics';
import { cutPicture, wholeRegion, type Picture, type StreamInfo } from '../../picture/picture';
import { noisyPlane, picture, streamInfo } from '../../testing/pictures';
import { runOver, type Step } from '../../testing/plans';
import { reportOf } from '../../testing/reports';
import { alignedWindow, neighboursOf } from './align';
import { grain } from './grain';

const SIGMA = 8;
const film = streamInfo({ width: 128, height: 96, frames: 7, fieldOrder: 'progressive' });

const noisy =
  (info: StreamInfo) =>
  (n: number): Picture => {
    const made = picture(info, n);
    return { ...made, planes: made.planes.map((p, i) => noisyPlane(p, SIGMA * 256, 3 * n + i + 1)) };
  };

async function treated(info: StreamInfo, settings: Record<string, unknown>, n = 3): Promise<Picture> {
  const step: Step = ['grain', { luma: SIGMA, chroma: SIGMA, keep: 0, ...settings }];
  const run = runOver(info, noisy(info), step);
  return run.frame(n, wholeRegion(info));
}

const gain = (made: Picture, info: StreamInfo, plane: number, n = 3): number =>
  psnr(made.planes[plane], picture(info, n).planes[plane]) - psnr(noisy(info)(n).planes[plane], picture(info, n).planes[plane]);

describe('Grain', () => {
  it.each([
    ['fast', 0],
    ['fast', 2],
    ['best', 0],
    ['best', 2],
  ])('%s, %i neighbours, takes it from luma and chroma', async (quality, neighbours) => {
    const made = await treated(film, { quality, neighbours });
    for (const plane of [0, 1, 2]) expect(gain(made, film, plane)).toBeGreaterThan(3);
  });

  it('is helped by its neighbours, more by more of them', async () => {
    const gains = await Promise.all([0, 1, 2].map(async (neighbours) => gain(await treated(film, { neighbours }), film, 0)));
    expect(gains[1]).toBeGreaterThan(gains[0] + 0.5);
    expect(gains[2]).toBeGreaterThan(gains[1]);
  });

  it('of a part is what the whole frame has there, to the last bit, and does not take as much work', async () => {
    const wide = streamInfo({ width: 320, height: 256, frames: 7 });
    const whole = await treated(wide, { neighbours: 2 });
    for (const region of [
      { x: 132, y: 100, width: 34, height: 40 },
      { x: 0, y: 200, width: 50, height: 56 },
      { x: 300, y: 2, width: 20, height: 30 },
    ]) {
      const run = runOver(wide, noisy(wide), ['grain', { luma: SIGMA, chroma: SIGMA, keep: 0 }]);
      const part = await run.frame(3, region);
      expect(part.planes.map((p) => p.data)).toEqual(cutPicture(whole, region).planes.map((p) => p.data));
      expect(run.spent.pixels).toBeLessThan(wide.width * wide.height);
    }
  });

  it('leaves a plane alone whose grain is said to be none', async () => {
    const source = noisy(film)(3);
    for (const quality of ['fast', 'best']) {
      const made = await treated(film, { quality, chroma: 0 });
      expect(made.planes.slice(1).map((p) => p.data)).toEqual(source.planes.slice(1).map((p) => p.data));
    }
  });

  it('keeps the share of the grain it is asked to keep', async () => {
    const source = noisy(film)(3).planes[0].data;
    for (const quality of ['fast', 'best']) {
      const [all, half] = await Promise.all([0, 50].map(async (keep) => (await treated(film, { quality, keep })).planes[0].data));
      half.forEach((v, i) => expect(Math.abs(v - (all[i] + source[i]) / 2)).toBeLessThan(40));
    }
  });

  it('works at both ends of a clip, on a single picture, and in monochrome', async () => {
    for (const n of [0, 6]) expect(gain(await treated(film, {}, n), film, 0, n)).toBeGreaterThan(3);
    const still = { ...film, frames: 1 },
      grey = { ...film, planes: 1 as const };
    expect(gain(await treated(still, {}, 0), still, 0, 0)).toBeGreaterThan(3);
    for (const quality of ['fast', 'best']) expect(gain(await treated(grey, { quality }), grey, 0)).toBeGreaterThan(3);
  });

  it('is proposed as measured, and switched on where there is enough of it', () => {
    expect(grain.propose(reportOf({ grainLuma: 0.4, grainChroma: 0.2 }), film)?.on).toBe(false);
    expect(grain.propose(reportOf({ grainLuma: 5.04, grainChroma: 2, grainSize: 0.7, grainSizeChroma: 0.2 }), film)).toEqual({
      on: true,
      settings: { luma: 5, chroma: 2, size: 0.7, chromaSize: 0.2 },
    });
  });
});

describe('alignedWindow', () => {
  const window = (numbers: number[]): Picture[] => {
    const made = new Map(numbers.map((n) => [n, picture(film, n)]));
    return numbers.map((n) => made.get(n) as Picture);
  };

  it('lays the neighbours over the middle frame', () => {
    const frames = window([1, 2, 3, 4, 5]);
    const laid = alignedWindow(frames, neighboursOf(frames));
    laid.forEach((planes, i) => {
      if (i === 2) expect(planes).toBe(frames[2].planes);
      // What moved into the picture at its edge was in no other frame.
      else
        expect(psnr(planes[0], frames[2].planes[0], 65535, 12)).toBeGreaterThan(
          psnr(frames[i].planes[0], frames[2].planes[0], 65535, 12) + 6,
        );
    });
  });

  it("puts the other side's frames where a clip ends", () => {
    const frames = window([0, 0, 0, 1, 2]);
    const laid = alignedWindow(frames, neighboursOf(frames));
    expect(laid[0]).toBe(laid[4]);
    expect(laid[1]).toBe(laid[3]);
    const two = window([0, 0, 0, 1, 1]);
    const near = alignedWindow(two, neighboursOf(two));
    expect(near[1]).toBe(near[3]);
    expect(near[4]).toBe(near[3]);
  });
});

describe('the grain that is proposed', () => {
  const still = streamInfo({ width: 160, height: 120, frames: 1 });
  const luma = (read: number, confidence: number, info = still, least = 0): number => {
    const proposed = grain.propose(reportOf({ grainLuma: read, grainConfidence: confidence, grainLumaLeast: least }), info);
    return proposed?.on ? Number(proposed.settings.luma) : 0;
  };

  it('is what is read where that is sure', () => {
    expect([luma(8, 0.95), luma(1.4, 0.95)]).toEqual([8, 0]);
  });

  it('is half of it in stills where it is unsure, and never much', () => {
    expect([luma(4, 0.3), luma(20, 0.3), luma(1.8, 0.3)]).toEqual([2, 2.5, 0]);
  });

  it('is what it is at least in stills that are large and told well enough', () => {
    const small = streamInfo({ width: 62, height: 44, frames: 1 });
    expect([luma(20, 0.6, still, 9), luma(20, 0.4, still, 9), luma(20, 0.6, small, 9)]).toEqual([9, 3, 3]);
  });

  it('is what it is at least in films, whose frames tell grain from texture', () => {
    expect([luma(8, 0.3, film), luma(8, 0.3, film, 3)]).toEqual([0, 3]);
  });
});
