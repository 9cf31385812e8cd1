import { describe, expect, it } from 'vitest';
import { psnr } from '../../metrics/metrics';
import { copyPlane, cutPicture, SIGMA_UNIT, wholeRegion, type Picture } from '../../picture/picture';
import { noisyPlane, picture, streamInfo, texturedPlane } from '../../testing/pictures';
import { runOver } from '../../testing/plans';
import { averageStanding, leveledStrength, stillReach, stillShares } from './standing';

const SIGMA = 10;
const info = streamInfo({ width: 160, height: 128, frames: 21, fieldOrder: 'progressive' });
const ground = picture(info, 0);
const wide = texturedPlane(400, 128, 900, 300);
/** A square of another texture passes before a ground that stands still. */
const clean = (n: number): Picture => {
  const luma = { ...ground.planes[0], data: ground.planes[0].data.slice() };
  const over = copyPlane(wide, 200 - 9 * n, 40, 40, 40);
  for (let y = 0; y < 40; y++)
    for (let x = 0; x < 40; x++) {
      const at = 9 * n - 30 + x;
      if (at >= 0 && at < 160) luma.data[(40 + y) * 160 + at] = over.data[y * 40 + x];
    }
  return { ...ground, planes: [luma, ...ground.planes.slice(1)] };
};
const noisy = (n: number): Picture => {
  const made = clean(n);
  return { ...made, planes: made.planes.map((p, i) => noisyPlane(p, SIGMA * SIGMA_UNIT, 7 * n + i)) };
};
const N = 10;

async function gainAt(settings: Record<string, unknown>): Promise<number> {
  const run = runOver(info, noisy, ['grain', { luma: SIGMA, chroma: SIGMA, keep: 0, ...settings }]);
  const made = await run.frame(N, wholeRegion(info));
  return psnr(made.planes[0], clean(N).planes[0]) - psnr(noisy(N).planes[0], clean(N).planes[0]);
}

describe('averageStanding', () => {
  const frames = Array.from({ length: 17 }, (_, i) => noisy(N - 8 + i));

  it('leaves a third of the noise where nothing moves, and what moves as it is', () => {
    const { window, levels } = averageStanding(frames, 5, { luma: SIGMA, size: 0 });
    expect(window).toHaveLength(5);
    const columns = 10;
    const moving = 4 * columns + Math.floor((9 * N - 10) / 16),
      still = 7 * columns + 2;
    expect(levels?.[moving]).toBe(1);
    expect(levels?.[still]).toBeLessThan(5 / 14);
    const block = (of: Picture, at: number) => copyPlane(of.planes[0], (at % columns) * 16, Math.floor(at / columns) * 16, 16, 16);
    expect(block(window[2], moving).data).toEqual(block(frames[8], moving).data);
    const gain = psnr(block(window[2], still), block(clean(N), still)) - psnr(block(frames[8], still), block(clean(N), still));
    expect(gain).toBeGreaterThan(3.5);
  });

  it('goes on with the frames as they are where all move, or where the grain is said to be far less than it is', () => {
    const pan = Array.from({ length: 17 }, (_, n) => picture(info, 3 * n));
    expect(averageStanding(pan, 5, { luma: 2, size: 0 })).toEqual({ window: pan.slice(6, 11) });
    expect(averageStanding(frames, 5, { luma: 3, size: 0 }).levels).toBeUndefined();
    expect(averageStanding(frames, 5, { luma: 0, size: 0 }).window).toEqual(frames.slice(6, 11));
  });

  it('does not take a slow drift for standing', () => {
    const drift = Array.from({ length: 17 }, (_, n) => {
      const luma = noisyPlane(texturedPlane(160, 128, 0.5 * n), 3 * SIGMA_UNIT, n);
      return { ...ground, planes: [luma, ...ground.planes.slice(1)] };
    });
    const { levels } = averageStanding(drift, 5, { luma: 3, size: 0 });
    const stood = (levels ?? new Float32Array()).filter((v) => v < 0.5).length;
    expect(stood).toBeLessThan(8);
  });
});

describe('Grain of a standing camera', () => {
  it.each(['fast', 'best'])('%s, is taken better with more frames', async (quality) => {
    const [five, all] = [await gainAt({ quality, still: 2 }), await gainAt({ quality, still: 8 })];
    expect(all - five).toBeGreaterThan(quality === 'fast' ? 1 : 0.7);
  });

  it('of a part is what the whole frame has there, to the last bit', async () => {
    const region = { x: 70, y: 48, width: 40, height: 30 };
    for (const quality of ['fast', 'best']) {
      const run = (): ReturnType<typeof runOver> => runOver(info, noisy, ['grain', { quality, luma: SIGMA, chroma: SIGMA }]);
      const whole = await run().frame(N, wholeRegion(info)),
        part = await run().frame(N, region);
      expect(part.planes.map((p) => p.data)).toEqual(cutPicture(whole, region).planes.map((p) => p.data));
    }
  });
});

describe('what is left of the noise', () => {
  const levels = new Float32Array(10 * 8).fill(1);
  levels[11] = 0.25;

  it('steers the networks by the root of its power, also under a mask', () => {
    const part = { x: 8, y: 16, width: 16, height: 4 };
    const plain = leveledStrength(8, levels, info, part);
    expect(plain).toMatchObject({ region: part });
    expect((plain as { values: Float32Array }).values.slice(6, 10)).toEqual(Float32Array.of(8, 8, 4, 4));
    const masked = leveledStrength(
      { region: { x: 0, y: 0, width: 160, height: 128 }, values: new Float32Array(160 * 128).fill(2) },
      levels,
      info,
      part,
    );
    expect((masked as { values: Float32Array }).values.slice(6, 10)).toEqual(Float32Array.of(2, 2, 1, 1));
    expect(leveledStrength(0, levels, info, part)).toBe(0);
  });

  it('gives the fast choice its share in the middle of a standing block, and none far from it', () => {
    const shares = stillShares(levels, ground, { x: 0, y: 0, width: 160, height: 128 }, 0);
    expect(shares[24 * 160 + 24]).toBeCloseTo(0.75, 1);
    expect(shares[60 * 160 + 100]).toBe(0);
    expect(stillShares(levels, ground, { x: 0, y: 0, width: 160, height: 128 }, 1)).toHaveLength(80 * 64);
  });
});

describe('stillReach', () => {
  it('holds fewer frames the larger they are', () => {
    const of = (width: number, height: number): number => stillReach({ ...info, width, height }, 8);
    expect([of(720, 576), of(1920, 1080), of(3840, 2160)]).toEqual([8, 4, 2]);
    expect(stillReach(info, 3)).toBe(3);
  });
});
