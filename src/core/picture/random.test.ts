import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalStream, randomStream } from './random';

const COUNT = 40_000;
const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

describe('random numbers', () => {
  it('are the same for the same seed, and others for another', () => {
    fc.assert(
      fc.property(fc.nat(), (seed) => {
        const [a, b, c] = [randomStream(seed), randomStream(seed), randomStream(seed + 1)];
        const first = Array.from({ length: 8 }, a);
        expect(Array.from({ length: 8 }, b)).toEqual(first);
        expect(Array.from({ length: 8 }, c)).not.toEqual(first);
      }),
    );
  });

  it('fill their range evenly', () => {
    const stream = randomStream(11);
    const tenths = new Array<number>(10).fill(0);
    for (let n = 0; n < COUNT; n++) {
      const v = stream();
      if (v >= 0 && v < 1) tenths[Math.floor(10 * v)]++;
    }
    expect(tenths.reduce((sum, count) => sum + count, 0)).toBe(COUNT);
    // Four deviations of a count of so many.
    for (const count of tenths) expect(Math.abs(count - COUNT / 10)).toBeLessThan(4 * Math.sqrt(COUNT * 0.09));
  });

  it('of a normal distribution have its mean, deviation, tails, and nothing to do with one another', () => {
    const stream = normalStream(5);
    const values = Array.from({ length: COUNT }, stream);
    expect(Math.abs(mean(values))).toBeLessThan(0.02);
    expect(Math.sqrt(mean(values.map((v) => v * v)))).toBeCloseTo(1, 1);
    expect(mean(values.map((v) => v ** 4))).toBeCloseTo(3, 0);
    expect(values.filter((v) => Math.abs(v) > 1.96).length / COUNT).toBeCloseTo(0.05, 2);
    expect(Math.abs(mean(values.slice(1).map((v, n) => v * values[n])))).toBeLessThan(0.02);
  });
});
