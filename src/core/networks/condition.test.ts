import { describe, expect, it } from 'vitest';
import { newPlane, SIGMA_UNIT, type Plane } from '../picture/picture';
import { noisyPlane, texturedPlane } from '../testing/pictures';
import { readDamage, readingPlanes } from './condition';

describe('readingPlanes', () => {
  it('folds the samples, and shows by signed roots how they differ from those one, two and three away', () => {
    const plane = newPlane(8, 8, 0x8000);
    plane.data[3 * 8 + 4] = 0x8000 + 64 * 256;
    const planes = readingPlanes(plane);
    expect(planes).toHaveLength(16 * 16);
    const at = (fold: number, x: number, y: number): number => planes[fold * 16 + (y >> 1) * 4 + (x >> 1)];
    // Line 3, column 4: odd line, even column.
    expect(at(2, 4, 3)).toBeCloseTo(2 * (192 / 255) - 1, 2);
    for (const d of [1, 2, 3]) expect(at(4 * d + 2, 4, 3)).toBeCloseTo(Math.sqrt((64 / 255) * 16), 2);
    // Two away on the same line, the point is one of four neighbours at that distance, and at no other.
    expect(at(8 + 2, 6, 3)).toBeCloseTo(-Math.sqrt((16 / 255) * 16), 2);
    expect(at(4 + 2, 6, 3)).toBe(0);
  });
});

describe('readDamage', () => {
  const clean = texturedPlane(320, 240);
  const grainy = (sigma: number): Plane => noisyPlane(clean, sigma * SIGMA_UNIT, 3);

  it('reads white grain of a plain picture, and none in a clean one', async () => {
    const readings = await Promise.all([0, 6, 14].map((sigma) => readDamage([sigma ? grainy(sigma) : clean], 24)));
    expect(readings[0].grain.value).toBeLessThan(1.5);
    for (const [i, sigma] of [
      [1, 6],
      [2, 14],
    ])
      expect(Math.abs(Math.log2((1 + readings[i].grain.value) / (1 + sigma)))).toBeLessThan(0.35);
  });

  it('never says more than the treatments take, whatever it is shown', async () => {
    const wild = await Promise.all([1, 2, 3].map((seed) => readDamage([noisyPlane(newPlane(256, 192, 32768), 90 * SIGMA_UNIT, seed)], 12)));
    for (const { grain, size, step } of wild) {
      expect(grain.value).toBeLessThanOrEqual(60);
      expect(size).toBeLessThanOrEqual(1.6);
      expect(step.value).toBeLessThanOrEqual(64);
    }
  });

  it('knows nothing of what is too small to be read, and is less sure of little than of much', async () => {
    expect((await readDamage([newPlane(30, 300, 20000)], 24)).grain.doubt).toBeGreaterThan(2);
    const small: Plane = {
      width: 40,
      height: 40,
      data: Uint16Array.from({ length: 1600 }, (_, i) => grainy(6).data[(i % 40) + 320 * Math.floor(i / 40)]),
    };
    expect((await readDamage([small], 24)).grain.doubt).toBeGreaterThan((await readDamage([grainy(6)], 24)).grain.doubt);
  });
});
