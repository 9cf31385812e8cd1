import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { HELD_BY, inlayToSource, placeFilling, placeHeld, toInlay } from './inlay';
import { pointAt, SAME_PLACE, scaling } from './maps/place';

const laid = { width: 300, height: 200 };
const coordinate = fc.integer({ min: 0, max: 4000 });

describe('where a picture is laid', () => {
  it('is told by two of its points, wherever they are held', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('whole' as const, 'oval' as const),
        fc.array(coordinate, { minLength: 4, maxLength: 4 }),
        (shape, [a, b, c, d]) => {
          fc.pre(Math.hypot(c - a, d - b) > 5);
          const held = HELD_BY[shape];
          const to = [
            { x: a, y: b },
            { x: c, y: d },
          ] as const;
          const map = inlayToSource(placeHeld(held, to, laid), laid);
          held.forEach((point, n) => {
            const there = pointAt(map, point.x * laid.width, point.y * laid.height);
            expect(there.x).toBeCloseTo(to[n].x, 5);
            expect(there.y).toBeCloseTo(to[n].y, 5);
          });
        },
      ),
    );
  });

  it('is the part of the output that a crop was cut from, pixel for pixel', () => {
    // The output is the source cropped by 40 and 20 and enlarged twice.
    const geometry = scaling(0.5, 0.5, 40, 20);
    const at = placeFilling({ x: 64, y: 32, width: 300, height: 200 }, geometry);
    expect(at).toEqual({ x: 147, y: 86, width: 150, turn: 0 });
    const there = toInlay(at, laid, geometry);
    expect(pointAt(there, 64.5, 32.5)).toEqual({ x: 0.5, y: 0.5 });
    expect(pointAt(there, 363.5, 231.5)).toEqual({ x: 299.5, y: 199.5 });
  });

  it('goes there and back', () => {
    const at = { x: 120, y: 80, width: 90, turn: 33 };
    const p = pointAt(toInlay(at, laid, SAME_PLACE), 130, 70);
    const back = pointAt(inlayToSource(at, laid), p.x, p.y);
    expect(back.x).toBeCloseTo(130, 6);
    expect(back.y).toBeCloseTo(70, 6);
  });
});
