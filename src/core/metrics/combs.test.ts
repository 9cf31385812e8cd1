import { describe, expect, it } from 'vitest';
import { newPlane, type Plane } from '../picture/picture';
import { texturedPlane } from '../testing/pictures';
import { combPixels, strayPixels } from './combs';

/** The plane with samples of some places raised by codes of 255. */
function raised(plane: Plane, codes: number, where: (x: number, y: number) => boolean): Plane {
  return { ...plane, data: plane.data.map((v, i) => (where(i % plane.width, Math.floor(i / plane.width)) ? v + codes * 256 : v)) };
}

describe('combPixels', () => {
  it('counts alternating lines, and neither a step nor a single line', () => {
    const flat = newPlane(40, 30, 30000);
    const comb = raised(flat, 30, (x, y) => x < 10 && y >= 10 && y < 20 && y % 2 === 0);
    // Five bright lines and the four dark ones between them, ten wide.
    expect(combPixels(comb)).toBe(90);
    expect(combPixels(raised(flat, 30, (_, y) => y > 12))).toBe(0);
    expect(combPixels(raised(flat, 30, (_, y) => y === 12))).toBe(0);
  });
});

describe('strayPixels', () => {
  const truth = texturedPlane(80, 60);
  it('counts a dash that the truth has not, and none that it has', () => {
    const dashed = raised(truth, 60, (x, y) => y === 30 && x >= 20 && x < 26);
    expect(strayPixels(dashed, truth)).toBe(6);
    expect(strayPixels(dashed, dashed)).toBe(0);
    expect(strayPixels(truth, truth)).toBe(0);
  });
});
