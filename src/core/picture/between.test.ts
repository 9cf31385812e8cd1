import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addBetween, sampleBetween, tapsBetween } from './between';

const width = 7,
  height = 5;
/** A slope, which linear interpolation gives back exactly. */
const slope = (x: number, y: number): number => 3 + 2 * x - 5 * y;
const raster = { width, height, data: Float64Array.from({ length: width * height }, (_, i) => slope(i % width, Math.floor(i / width))) };
const rgb = {
  width,
  height,
  data: Float64Array.from({ length: 3 * width * height }, (_, i) => raster.data[Math.floor(i / 3)] + 100 * (i % 3)),
};
const place = (most: number): fc.Arbitrary<number> => fc.double({ min: 0, max: most, noNaN: true });

describe('samples between samples', () => {
  it('of a slope lie on it', () => {
    fc.assert(
      fc.property(place(width - 1), place(height - 1), (x, y) => {
        expect(sampleBetween(raster, x, y)).toBeCloseTo(slope(x, y), 9);
        const sum = new Float64Array([1, 1, 1]);
        addBetween(rgb, x, y, sum);
        [0, 1, 2].forEach((c) => expect(sum[c]).toBeCloseTo(1 + slope(x, y) + 100 * c, 9));
      }),
    );
  });

  it('beyond the border are the border’s', () => {
    for (const [x, y, nearX, nearY] of [
      [-3, 2, 0, 2],
      [width + 4, 1, width - 1, 1],
      [2, -0.5, 2, 0],
      [3, height + 2, 3, height - 1],
    ]) {
      expect(sampleBetween(raster, x, y)).toBe(slope(nearX, nearY));
      const sum = new Float64Array(3);
      addBetween(rgb, x, y, sum);
      expect(sum[0]).toBe(slope(nearX, nearY));
    }
  });

  it('of a row are named by those beside them', () => {
    fc.assert(
      fc.property(fc.double({ min: -0.5, max: 1.5, noNaN: true }), fc.integer({ min: 1, max: 40 }), (at, size) => {
        const [before, after, beyond] = tapsBetween(at, size);
        expect(before >= 0 && after < size && after - before <= 1 && beyond >= 0 && beyond < 1).toBe(true);
        const exact = Math.min(size - 1, Math.max(0, at * size - 0.5));
        expect(before + beyond).toBeCloseTo(exact, 9);
      }),
    );
  });
});
