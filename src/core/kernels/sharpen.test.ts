import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { psnr } from '../metrics/metrics';
import { newPlane, type Plane } from '../picture/picture';
import { randomPlane, texturedPlane } from '../testing/pictures';
import { gaussianTaps, undoBlur as plain } from './reference/sharpen';
import { undoBlur } from './sharpen';

/** Blurred both ways with repeated edges. */
function soft(plane: Plane, sigma: number): Plane {
  const taps = gaussianTaps(sigma);
  const reach = (taps.length - 1) / 2;
  const pass = (from: ArrayLike<number>, dx: number, dy: number): Float64Array =>
    Float64Array.from({ length: from.length }, (_, i) => {
      const x = i % plane.width,
        y = Math.floor(i / plane.width);
      return taps.reduce((sum, w, t) => {
        const px = Math.min(plane.width - 1, Math.max(0, x + dx * (t - reach))),
          py = Math.min(plane.height - 1, Math.max(0, y + dy * (t - reach)));
        return sum + w * from[py * plane.width + px];
      }, 0);
    });
  const out = newPlane(plane.width, plane.height);
  pass(pass(plane.data, 1, 0), 0, 1).forEach((v, i) => (out.data[i] = Math.round(v)));
  return out;
}

describe('undoBlur', () => {
  it('agrees with its plain form', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 41 }),
        fc.integer({ min: 1, max: 17 }),
        fc.double({ min: 0.2, max: 2, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (width, height, sigma, strength) => {
          const plane = randomPlane(width, height, 5);
          const a = undoBlur(plane, sigma, 3, 0.15, strength),
            b = plain(plane, sigma, 3, 0.15, strength);
          for (const [i, v] of a.data.entries()) expect(Math.abs(v - b.data[i])).toBeLessThan(4);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('brings a blurred picture nearer to what it was', () => {
    const truth = texturedPlane(160, 96);
    const blurred = soft(truth, 1);
    expect(psnr(undoBlur(blurred, 1, 4, 0.15, 1), truth)).toBeGreaterThan(psnr(blurred, truth) + 2);
  });

  it('draws no outlines: an edge stays within its neighbours, but for the slack', () => {
    const plane = newPlane(64, 16);
    plane.data.forEach((_, i) => (plane.data[i] = i % 64 < 32 ? 20000 : 40000));
    const out = undoBlur(soft(plane, 1), 1, 6, 0.15, 1);
    expect(Math.min(...out.data)).toBeGreaterThan(20000 - 2000);
    expect(Math.max(...out.data)).toBeLessThan(40000 + 2000);
  });

  it('leaves what is flat as it is', () => {
    const plane = newPlane(40, 30, 12345);
    expect(undoBlur(plane, 1.2, 4, 0.15, 1)).toEqual(plane);
  });
});
