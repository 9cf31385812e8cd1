import { describe, expect, it } from 'vitest';
import { newPlane, type Plane } from '../picture/picture';
import { psnr } from '../metrics/metrics';
import { noisyPlane, texturedPlane } from '../testing/pictures';
import { transform } from '../fourier';
import { cutPattern } from './notch';
import { findScreens, SWINGS_AS_INK } from './screens';

/** A plane printed with round dots, `period` pixels apart on rows turned by `angle` degrees, its dots drawn with soft edges. */
function printed(plane: Plane, period: number, angle: number): Plane {
  const turn = (angle * Math.PI) / 180;
  const out = newPlane(plane.width, plane.height);
  out.data.forEach((_, i) => {
    const x = i % plane.width,
      y = Math.floor(i / plane.width);
    const u = (x * Math.cos(turn) + y * Math.sin(turn)) / period,
      v = (y * Math.cos(turn) - x * Math.sin(turn)) / period;
    const spot = (Math.cos(2 * Math.PI * u) + Math.cos(2 * Math.PI * v)) / 4 + 0.5;
    out.data[i] = Math.round(65535 / (1 + Math.exp(14 * (spot - plane.data[i] / 65535))));
  });
  return out;
}

describe('a Fourier transform', () => {
  it('is that of its definition', () => {
    const side = 8;
    const real = Float64Array.from({ length: 64 }, (_, i) => Math.sin(i * i)),
      imaginary = Float64Array.from({ length: 64 }, (_, i) => Math.cos(3 * i));
    const [a, b] = [real.slice(), imaginary.slice()];
    transform(a, b, side);
    for (const [u, v] of [
      [0, 0],
      [3, 1],
      [7, 5],
    ]) {
      let r = 0,
        m = 0;
      for (let i = 0; i < 64; i++) {
        const turn = (-2 * Math.PI * (u * (i % side) + v * Math.floor(i / side))) / side;
        r += real[i] * Math.cos(turn) - imaginary[i] * Math.sin(turn);
        m += real[i] * Math.sin(turn) + imaginary[i] * Math.cos(turn);
      }
      expect(a[v * side + u]).toBeCloseTo(r, 9);
      expect(b[v * side + u]).toBeCloseTo(m, 9);
    }
    expect(() => transform(new Float64Array(36), new Float64Array(36), 6)).toThrow('powers of two');
  });
});

describe('printing screens', () => {
  it.each([
    [3.43, 52],
    [4.5, 15],
    [6.3, 75],
    [9.2, 45],
    [5, 0],
  ])('of %f px at %f° are found', (period, angle) => {
    const [screen] = findScreens(printed(texturedPlane(320, 280), period, angle));
    expect(screen.period).toBeCloseTo(period, 1);
    expect(Math.abs(((screen.angle - angle + 135) % 90) - 45)).toBeLessThan(0.5);
    expect(screen.strength).toBeGreaterThan(24);
    expect(screen.swing).toBeGreaterThan(SWINGS_AS_INK);
  });

  it('of a middle grey are found by their rows, not by their diagonals', () => {
    const grey = texturedPlane(320, 280);
    grey.data.forEach((v, i) => (grey.data[i] = 32768 + (v - 32768) / 12));
    expect(findScreens(printed(grey, 5.45, 20))[0].period).toBeCloseTo(5.45, 1);
  });

  it('are not found where there are none', () => {
    for (const plane of [texturedPlane(320, 280), noisyPlane(texturedPlane(320, 280), 3000, 4), texturedPlane(100, 90)])
      expect(findScreens(plane).filter((s) => s.strength >= 24)).toEqual([]);
  });
});

describe('a pattern', () => {
  const period = 7.3,
    angle = 33;
  const clean = texturedPlane(160, 128);
  const turn = (angle * Math.PI) / 180;
  const woven: Plane = {
    ...clean,
    data: clean.data.map((v, i) => {
      const x = i % 160,
        y = Math.floor(i / 160);
      const wave = (t: number): number => Math.cos((2 * Math.PI * t) / period);
      return v + 1500 * (wave(x * Math.cos(turn) + y * Math.sin(turn)) + wave(y * Math.cos(turn) - x * Math.sin(turn)));
    }),
  };
  const all = { x: 0, y: 0, width: 160, height: 128 };
  const cut = (amount: number, region = all): Plane => cutPattern(woven, all, region, { period, angle }, amount);

  it('is cut out, and the picture stays', () => {
    expect(psnr(cut(1), clean, 65535, 16)).toBeGreaterThan(psnr(woven, clean, 65535, 16) + 8);
    expect(psnr(cutPattern(clean, all, all, { period, angle }, 1), clean, 65535, 16)).toBeGreaterThan(42);
  });

  it('is found, and told from ink by how far it swings', () => {
    const [found] = findScreens(woven);
    expect(found.period).toBeCloseTo(period, 1);
    expect(found.angle).toBeCloseTo(angle, 0);
    expect(found.swing).toBeGreaterThan((0.7 * 1500) / 257);
    expect(found.swing).toBeLessThan((1.5 * 1500) / 257);
  });

  it('stays where nothing is to be cut', () => {
    cut(0).data.forEach((v, i) => expect(Math.abs(v - woven.data[i])).toBeLessThanOrEqual(1));
  });

  it('is cut from a part as from the whole', () => {
    const part = { x: 37, y: 22, width: 60, height: 50 };
    const whole = cut(1);
    cut(1, part).data.forEach((v, i) => expect(v).toBe(whole.data[(22 + Math.floor(i / 60)) * 160 + 37 + (i % 60)]));
  });
});
