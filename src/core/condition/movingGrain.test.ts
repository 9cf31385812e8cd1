import { describe, expect, it } from 'vitest';
import { copyPlane, SIGMA_UNIT, type Plane } from '../picture/picture';
import { noisyPlane, texturedPlane } from '../testing/pictures';
import { measureGrain } from './grain';
import { fieldOf, measureMovingGrain } from './movingGrain';

const wide = noisyPlane(texturedPlane(320, 240), 2500, 5);
/** Texture all over, which a single frame reads as grain, moving by whole pixels. */
const leaves = (n: number): Plane => copyPlane(wide, 3 * n, 2 * n, 256, 192);

describe('measureMovingGrain', () => {
  it('finds none in moving texture that passes for grain in a single frame', () => {
    expect(measureGrain(leaves(1), false).sigma).toBeGreaterThan(3);
    expect(measureMovingGrain(leaves(0), leaves(1))?.sigma).toBeLessThan(0.5);
  });

  it.each([2, 5, 12])('finds sigma %i in it', (sigma) => {
    const [a, b] = [0, 1].map((n) => noisyPlane(leaves(n), sigma * SIGMA_UNIT, n + 1));
    const found = measureMovingGrain(a, b);
    expect(Math.abs((found?.sigma ?? 0) / sigma - 1)).toBeLessThan(0.15);
    expect(found?.size).toBeLessThan(0.35);
  });

  it('says nothing of a frame that repeats the one before', () => {
    const noisy = noisyPlane(leaves(0), 1000, 1);
    expect(measureMovingGrain(noisy, noisy)).toBeUndefined();
  });
});

describe('fieldOf', () => {
  it('takes every other line, of uneven heights too', () => {
    const plane = { width: 1, height: 5, data: Uint16Array.of(0, 1, 2, 3, 4) };
    expect(fieldOf(plane, 0)).toEqual({ width: 1, height: 3, data: Uint16Array.of(0, 2, 4) });
    expect(fieldOf(plane, 1)).toEqual({ width: 1, height: 2, data: Uint16Array.of(1, 3) });
  });
});
