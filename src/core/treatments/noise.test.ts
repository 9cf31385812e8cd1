import { describe, expect, it } from 'vitest';
import { codingNoise, grainNoise, addedNoise } from './noise';

const mean = (spectrum: Float32Array): number => spectrum.reduce((a, b) => a + b, 0) / 64;

describe('noise', () => {
  it('has its power told against the mean of all coefficients', () => {
    for (const { spectrum } of [codingNoise(10, true, false), grainNoise(5, 0)]) expect(mean(spectrum)).toBeCloseTo(1, 4);
  });

  it('of a codec rises with the frequency and with the step, and is coarser in chroma', () => {
    const { spectrum, sigma } = codingNoise(20, false, false);
    expect(spectrum[63]).toBeGreaterThan(30 * spectrum[9]);
    expect(sigma).toBeCloseTo(2 * codingNoise(10, false, false).sigma);
    expect(codingNoise(20, false, true).sigma).toBeGreaterThan(sigma);
  });

  it('of two kinds adds up by power, coefficient by coefficient', () => {
    const grain = grainNoise(4, 0.8),
      coding = codingNoise(12, true, false);
    const both = addedNoise(grain, coding);
    expect(both.sigma).toBeCloseTo(Math.hypot(grain.sigma, coding.sigma));
    both.spectrum.forEach((v, i) =>
      expect(v * both.sigma ** 2).toBeCloseTo(grain.spectrum[i] * 16 + coding.spectrum[i] * coding.sigma ** 2, 3),
    );
    expect(addedNoise(grainNoise(0, 0), codingNoise(0, true, false)).sigma).toBe(0);
  });
});
