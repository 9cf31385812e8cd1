import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newPlane, SIGMA_UNIT, type Plane } from '../picture/picture';
import { noisyPlane, texturedPlane } from '../testing/pictures';
import { eigenvalues, measureWhiteNoise } from './whiteNoise';

/** A ramp, which lies in few directions. */
function ramp(width: number, height: number): Plane {
  const plane = newPlane(width, height);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = 8000 + 160 * (i % width) + 90 * Math.floor(i / width);
  return plane;
}

describe('measureWhiteNoise', () => {
  it.each([2, 5, 10, 25])('reads noise of %d on plain ground and on texture, a little short', (sigma) => {
    for (const plane of [ramp(160, 120), texturedPlane(160, 120)]) {
      const read = measureWhiteNoise(noisyPlane(plane, sigma * SIGMA_UNIT, 7)) ?? 0;
      expect(read / sigma).toBeGreaterThan(0.75);
      expect(read / sigma).toBeLessThan(1.2);
    }
  });

  it('reads next to nothing where there is none', () => {
    expect(measureWhiteNoise(ramp(160, 120))).toBeLessThan(0.1);
    expect(measureWhiteNoise(texturedPlane(160, 120))).toBeLessThan(2);
  });

  it('says nothing of what is all black or too small', () => {
    expect(measureWhiteNoise(newPlane(160, 120))).toBeUndefined();
    expect(measureWhiteNoise(ramp(12, 12))).toBeUndefined();
    expect(measureWhiteNoise(ramp(4, 200))).toBeUndefined();
  });
});

describe('eigenvalues', () => {
  it('keeps the trace and the determinant', () => {
    fc.assert(
      fc.property(fc.array(fc.float({ min: -9, max: 9, noNaN: true }), { minLength: 6, maxLength: 6 }), ([a, b, c, d, e, f]) => {
        const [x, y, z] = eigenvalues(Float64Array.of(a, b, c, b, d, e, c, e, f), 3);
        expect(x + y + z).toBeCloseTo(a + d + f, 6);
        expect(x * y * z).toBeCloseTo(a * (d * f - e * e) - b * (b * f - e * c) + c * (b * e - d * c), 4);
      }),
    );
  });
});
