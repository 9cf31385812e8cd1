import { describe, expect, it } from 'vitest';
import { newPlane } from '../picture/picture';
import { noisyPlane, texturedPlane } from '../testing/pictures';
import { psnr, ssim } from './metrics';

describe('psnr and ssim', () => {
  it('have their known values', () => {
    const a = newPlane(16, 16, 1000),
      b = newPlane(16, 16, 1655);
    // An error of peak / 100 everywhere is 40 dB.
    expect(psnr(a, b, 65500)).toBeCloseTo(40, 9);
    expect(psnr(a, a)).toBe(Infinity);
    expect(ssim(a, a)).toBe(1);
  });

  it('fall as noise grows', () => {
    const clean = texturedPlane(64, 64);
    const made = [200, 800, 3000].map((sigma) => noisyPlane(clean, sigma, 1));
    const fall = (values: number[]) => expect([...values].sort((x, y) => y - x)).toEqual(values);
    fall(made.map((m) => psnr(m, clean)));
    fall(made.map((m) => ssim(m, clean)));
  });

  it('refuse planes of different sizes', () => {
    expect(() => psnr(newPlane(4, 4), newPlane(4, 5))).toThrow('differ in size');
  });
});
