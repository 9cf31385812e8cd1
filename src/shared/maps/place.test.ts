import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { composePlaces, evenPart, invertPlace, keepsAxes, placeOf, pointAt, SAME_PLACE, scaling, type Projective } from './place';

const near = fc.double({ min: -0.3, max: 0.3, noNaN: true });
/** Turned, sheared, moved and put in perspective, but never turned over. */
const projective = fc
  .tuple(near, near, near, near, fc.integer({ min: -200, max: 200 }), fc.integer({ min: -200, max: 200 }), near, near)
  .map(([a, b, c, d, x, y, g, h]): Projective => [1 + a, b, x, c, 1 + d, y, g / 4000, h / 4000, 1]);
const coordinate = fc.integer({ min: 0, max: 1000 });

describe('places', () => {
  it('lead there and back through any chain', () => {
    fc.assert(
      fc.property(fc.array(projective, { maxLength: 4 }), coordinate, coordinate, (maps, x, y) => {
        const whole = maps.reduce(composePlaces, SAME_PLACE);
        const there = pointAt(whole, x, y);
        const stepwise = maps.reduceRight((p, m) => pointAt(m, p.x, p.y), { x, y });
        expect(there.x).toBeCloseTo(stepwise.x, 6);
        expect(there.y).toBeCloseTo(stepwise.y, 6);
        const back = pointAt(invertPlace(whole), there.x, there.y);
        expect(back.x).toBeCloseTo(x, 4);
        expect(back.y).toBeCloseTo(y, 4);
      }),
    );
  });

  it('that move and scale keep rectangles upright', () => {
    expect(keepsAxes(scaling(2, 0.5, 7, -3))).toBe(true);
    expect(placeOf(scaling(2, 0.5, 7, -3), { x: 10, y: 20, width: 30, height: 40 })).toEqual({ x: 27, y: 7, width: 60, height: 20 });
  });

  it('that turn are told by the rectangle round them', () => {
    const quarter: Projective = [0, -1, 100, 1, 0, 0, 0, 0, 1];
    expect(keepsAxes(quarter)).toBe(false);
    expect(placeOf(quarter, { x: 10, y: 20, width: 30, height: 40 })).toEqual({ x: 40, y: 10, width: 40, height: 30 });
  });

  it('without a way back say so', () => {
    expect(() => invertPlace([1, 0, 0, 1, 0, 0, 0, 0, 1])).toThrow('not invertible');
  });

  it('told in fractions become even pixels that hold all of them', () => {
    const part = fc.double({ min: 0, max: 0.5, noNaN: true });
    const side = fc.integer({ min: 8, max: 2000 }).map((n) => 2 * n);
    fc.assert(
      fc.property(part, part, part, part, side, side, (x, y, width, height, w, h) => {
        const even = evenPart({ x, y, width: width + 0.01, height: height + 0.01 }, { width: w, height: h });
        for (const v of [even.x, even.y, even.width, even.height]) expect(v % 2).toBe(0);
        expect(even.x).toBeLessThanOrEqual(x * w);
        expect(even.y + even.height).toBeGreaterThanOrEqual(Math.min(h, (y + height + 0.01) * h) - 1e-6);
        expect(even.x + even.width).toBeLessThanOrEqual(w);
      }),
    );
  });
});
