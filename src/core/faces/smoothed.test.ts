import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalStream } from '../picture/random';
import { smoothed, smoothedBroadly } from './smoothed';

const SIDE = 56;
const noise = (seed: number): Float32Array => Float32Array.from({ length: SIDE * SIDE }, normalStream(seed));
const sigmas = fc.double({ min: 0.5, max: 9, noNaN: true });

describe.each([
  ['a Gaussian', smoothed],
  ['means over squares', smoothedBroadly],
])('%s', (_, smooth) => {
  it('leaves what is plain', () => {
    fc.assert(
      fc.property(sigmas, fc.double({ min: -2, max: 2, noNaN: true }), (sigma, v) => {
        for (const made of smooth(new Float32Array(SIDE * SIDE).fill(v), SIDE, sigma)) expect(Math.abs(made - v)).toBeLessThan(1e-5);
      }),
      { numRuns: 12 },
    );
  });

  it('is the same for a picture and for it turned over its diagonal', () => {
    fc.assert(
      fc.property(sigmas, fc.nat(), (sigma, seed) => {
        const turned = (plane: Float32Array): Float32Array => plane.map((_, i) => plane[(i % SIDE) * SIDE + Math.floor(i / SIDE)]);
        const plane = noise(seed);
        const [a, b] = [turned(smooth(plane, SIDE, sigma)), smooth(turned(plane), SIDE, sigma)];
        expect(Math.max(...a.map((v, i) => Math.abs(v - b[i])))).toBeLessThan(1e-5);
      }),
      { numRuns: 12 },
    );
  });

  it('spreads a point as far as it is told', () => {
    for (const sigma of [1, 2.5, 4, 6]) {
      const point = new Float32Array(SIDE * SIDE);
      point[(SIDE / 2) * SIDE + SIDE / 2] = 1;
      const made = smooth(point, SIDE, sigma);
      let sum = 0,
        squares = 0;
      made.forEach((v, i) => {
        sum += v;
        squares += v * ((i % SIDE) - SIDE / 2) ** 2;
      });
      expect(sum).toBeCloseTo(1, 3);
      expect(Math.sqrt(squares / sum) / sigma).toBeGreaterThan(0.94);
      expect(Math.sqrt(squares / sum) / sigma).toBeLessThan(1.04);
    }
  });

  it('keeps between the least and the most there is', () => {
    const plane = noise(3);
    const [least, most] = [Math.min(...plane), Math.max(...plane)];
    for (const v of smooth(plane, SIDE, 3.3)) expect(v > least && v < most).toBe(true);
  });
});
