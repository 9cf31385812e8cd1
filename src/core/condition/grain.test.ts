import { describe, expect, it } from 'vitest';
import { addGrain } from '../kernels/noise';
import { newPlane, type Plane } from '../picture/picture';
import { noisyPlane } from '../testing/pictures';
import { evennessOf, measureGrain } from './grain';

/** A wide ramp with grain of a known deviation and radius. */
function grainy(sigma: number, size: number): Plane {
  const plane = newPlane(320, 240);
  plane.data.forEach((_, i) => (plane.data[i] = 20000 + (i % 320) * 60));
  addGrain(
    plane,
    { x: 0, y: 0, width: 320, height: 240 },
    { amplitudes: new Float32Array(256).fill(sigma), size, seed: 7, frame: 0, channel: 0 },
  );
  return plane;
}

describe('measureGrain', () => {
  for (const [sigma, size] of [
    [2, 0],
    [6, 0],
    [12, 0],
    [4, 0.6],
    [8, 0.8],
    [8, 1.2],
  ]) {
    it(`finds sigma ${sigma} of radius ${size}`, () => {
      const found = measureGrain(grainy(sigma, size), false);
      expect(Math.abs(found.sigma / sigma - 1)).toBeLessThan(0.12);
      expect(Math.abs(found.size - size)).toBeLessThan(0.3);
    });
  }

  it('finds none on a clean picture, and none where nothing can be judged', () => {
    expect(measureGrain(grainy(0, 0), false).sigma).toBeLessThan(0.2);
    expect(measureGrain(newPlane(64, 64, 0), false)).toEqual({ sigma: 0, size: 0 });
    expect(measureGrain(newPlane(10, 10, 30000), false).sigma).toBe(0);
  });

  it('does not take the comb of two fields for grain', () => {
    const plane = newPlane(320, 240);
    plane.data.forEach((_, i) => (plane.data[i] = 30000 + 8000 * Math.sin(((i % 320) + (Math.floor(i / 320) % 2) * 12) * 0.12)));
    expect(measureGrain(plane, false).sigma).toBeGreaterThan(4 * measureGrain(plane, true).sigma + 1);
  });
});

describe('evennessOf', () => {
  /** Flat tones of several lightnesses, and a busy part. */
  const scene = (sigma: number, busy: number, uneven = 0): Plane => {
    const plane = newPlane(320, 240);
    plane.data.forEach((_, i) => {
      const x = i % 320,
        y = Math.floor(i / 320);
      plane.data[i] = 12000 + 9000 * Math.floor(x / 80) + (y > 150 ? busy * Math.sin(x * 0.9) * Math.sin(y * 1.1) : 0);
    });
    addGrain(
      plane,
      { x: 0, y: 0, width: 320, height: 240 },
      { amplitudes: new Float32Array(256).map((_, tone) => sigma * (1 + (uneven * tone) / 255)), size: 0.7, seed: 3, frame: 0, channel: 0 },
    );
    return plane;
  };

  it('holds of grain that plain parts of unlike lightness share while others are busier', () => {
    expect(evennessOf(scene(6, 9000))).toBe('grain');
  });

  it('holds of flat tones that are as even as noise alone', () => {
    expect(evennessOf(scene(6, 0))).toBe('grain');
  });

  it('does not hold of a picture that is the same all over, which may be a texture, of one tone, or without grain', () => {
    expect(evennessOf(scene(6, 0, 2))).toBe('unclear');
    const oneTone = scene(6, 9000);
    oneTone.data.forEach((v, i) => (oneTone.data[i] = v - 9000 * Math.floor((i % 320) / 80)));
    expect(evennessOf(oneTone)).toBe('unclear');
    expect(evennessOf(newPlane(64, 64, 30000))).toBe('unclear');
    expect(evennessOf(noisyPlane(newPlane(320, 240, 30000), 1500, 3))).toBe('same all over');
  });
});
