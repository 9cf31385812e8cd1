import { describe, expect, it } from 'vitest';
import { newPlane } from '../picture/picture';
import { measureBlur } from './blur';

/** Bars with edges that follow a Gaussian of `sigma` pixels, seen through square samples. */
function bars(sigma: number): ReturnType<typeof newPlane> {
  const plane = newPlane(320, 200);
  const edge = (x: number): number => {
    let sum = 0;
    for (let t = -40; t <= 40; t++) {
      const at = x + (t / 40) * 3 * Math.max(sigma, 1e-3);
      sum += Math.exp(-((3 * (t / 40)) ** 2) / 2) * (Math.floor(at / 20) & 1);
    }
    return sum;
  };
  const total = Array.from({ length: 81 }, (_, i) => Math.exp(-((3 * ((i - 40) / 40)) ** 2) / 2)).reduce((a, b) => a + b, 0);
  for (let x = 0; x < plane.width; x++) {
    const level = Math.round((60 + (120 * edge(x + 0.5)) / total) * 256);
    for (let y = 0; y < plane.height; y++) plane.data[y * plane.width + x] = level;
  }
  return plane;
}

describe('measureBlur', () => {
  it('tells known blurs from each other', () => {
    const seen = [0.2, 0.7, 1, 1.5].map((s) => measureBlur(bars(s)) ?? NaN);
    for (const [i, truth] of [0.2, 0.7, 1, 1.5].entries()) expect(Math.abs(seen[i] - truth)).toBeLessThan(0.3);
    expect(seen).toEqual([...seen].sort((a, b) => a - b));
  });

  it('says nothing where there are no edges', () => {
    expect(measureBlur(newPlane(320, 200, 30000))).toBeUndefined();
  });
});
