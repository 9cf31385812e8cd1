import { describe, expect, it, vi } from 'vitest';
import { SIGMA_UNIT, type Picture } from '../picture/picture';
import { noisyPlane, picture, streamInfo } from '../testing/pictures';
import { combineReadings, measureDamage } from './damage';
import { atLeast, confidenceOf } from './doubt';
import { LIKELY, SURE } from './report';

const reading = (value: number, doubt: number) => ({ grain: { value, doubt }, size: 0.4 });

describe('combineReadings', () => {
  it('believes what does not move along: texture that looks like grain is none', () => {
    const { grain } = combineReadings(reading(9, 1), { sigma: 0.2, size: 0 }, 0);
    expect(grain.value).toBe(0.2);
    expect(confidenceOf(grain.doubt)).toBeGreaterThan(SURE);
  });

  it('is sure where both agree, and likely within the doubt of the first', () => {
    const { grain, size } = combineReadings(reading(5.5, 1), { sigma: 6, size: 0.7 }, 0);
    expect(grain.value).toBe(6);
    expect(size).toBe(0.7);
    expect(confidenceOf(grain.doubt)).toBeGreaterThan(SURE);
    const likely = confidenceOf(combineReadings(reading(4, 1), { sigma: 6, size: 0.7 }, 0).grain.doubt);
    expect(likely).toBeGreaterThan(LIKELY);
    expect(likely).toBeLessThan(SURE);
  });

  it('does not act on uneven motion where the network sees nothing', () => {
    const { grain } = combineReadings(reading(0, 0.3), { sigma: 3.6, size: 0.5 }, 0);
    expect(confidenceOf(grain.doubt)).toBeLessThan(LIKELY);
    expect(atLeast(grain)).toBeLessThan(1);
  });

  it('takes coding that boils for what goes with grain, up to a share of its step', () => {
    const coarse = combineReadings(reading(0, 0.3), { sigma: 3, size: 0.6 }, 20).grain,
      fine = combineReadings(reading(0, 0.3), { sigma: 3, size: 0.6 }, 4).grain,
      still = combineReadings(reading(0, 0.1), { sigma: 1.4, size: 0.5 }, 20).grain;
    expect([coarse.value, fine.value, still.value]).toEqual([4.5, 1, 0]);
    expect(confidenceOf(coarse.doubt)).toBeGreaterThan(LIKELY);
    expect(confidenceOf(coarse.doubt)).toBeLessThan(SURE);
  });

  it('is what the network reads where a frame repeats the one before', () => {
    expect(combineReadings(reading(3, 0.2), undefined, 0)).toMatchObject(reading(3, 0.2));
  });
});

describe('measureDamage', () => {
  const info = streamInfo({ width: 192, height: 160, frames: 12 });
  const grainy = (n: number, sigma: number): Picture => {
    const made = picture(info, n);
    return { ...made, planes: made.planes.map((p, i) => noisyPlane(p, (i ? 0.5 : 1) * sigma * SIGMA_UNIT, 3 * n + i + 1)) };
  };
  const run = (sigma: number): Picture[] => [0, 1, 2, 3].map((n) => (sigma ? grainy(n, sigma) : picture(info, n)));

  it('finds the grain of moving frames, and none where there is none', async () => {
    const found = await measureDamage([run(8)], info, false);
    expect(Math.abs(found.luma.grain.value / 8 - 1)).toBeLessThan(0.25);
    expect(found.chroma.grain.value).toBeGreaterThan(2);
    expect((await measureDamage([run(0)], info, false)).luma.grain.value).toBeLessThan(1.2);
  });

  it('goes on by statistics, unsure, where the network is missing', async () => {
    const before = process.env.WAIRETIC_MODELS;
    process.env.WAIRETIC_MODELS = '/nowhere';
    try {
      // Loaded anew: the network of this thread may be there already.
      vi.resetModules();
      const fresh = await import('./damage');
      const still = { ...info, frames: 1 };
      const found = await fresh.measureDamage([[grainy(0, 8)]], still, false);
      expect(found.luma.grain.value).toBeGreaterThan(4);
      expect(confidenceOf(found.luma.grain.doubt)).toBeLessThan(LIKELY);
    } finally {
      if (before === undefined) delete process.env.WAIRETIC_MODELS;
      else process.env.WAIRETIC_MODELS = before;
    }
  });
});
