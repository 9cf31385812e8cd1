import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type CurvePoint, curveThrough } from './curve';

/** Points from left to right, a hundredth apart at least. */
const points: fc.Arbitrary<CurvePoint[]> = fc
  .uniqueArray(fc.nat(100), { minLength: 2, maxLength: 8 })
  .chain((xs) =>
    fc
      .array(fc.nat(100), { minLength: xs.length, maxLength: xs.length })
      .map((ys) => [...xs].sort((a, b) => a - b).map((x, i) => ({ x: x / 100, y: ys[i] / 100 }))),
  );

describe('a curve', () => {
  it('goes through its points, and is level beyond them', () => {
    fc.assert(
      fc.property(points, (given) => {
        const at = curveThrough(given);
        for (const { x, y } of given) expect(at(x)).toBeCloseTo(y, 6);
        expect([at(-1), at(2)]).toEqual([given[0].y, given[given.length - 1].y]);
      }),
    );
  });

  it('stays between two points that follow one another', () => {
    fc.assert(
      fc.property(points, fc.double({ min: 0, max: 1, noNaN: true }), (given, t) => {
        const at = curveThrough(given);
        given.slice(1).forEach((b, i) => {
          const a = given[i];
          const y = at(a.x + t * (b.x - a.x));
          expect(y).toBeGreaterThanOrEqual(Math.min(a.y, b.y) - 1e-9);
          expect(y).toBeLessThanOrEqual(Math.max(a.y, b.y) + 1e-9);
        });
      }),
    );
  });

  it('through points in a line is that line', () => {
    const at = curveThrough([0, 0.3, 0.5, 1].map((x) => ({ x, y: 0.2 + 0.6 * x })));
    for (let x = 0; x <= 1; x += 0.05) expect(at(x)).toBeCloseTo(0.2 + 0.6 * x, 9);
  });
});
