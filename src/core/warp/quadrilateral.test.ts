import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pointAt } from '../../shared/maps/place';
import { isConvex, type Point, type Quadrilateral, rectangleTo, sidesOf, trueShape } from './quadrilateral';

const off = fc.integer({ min: -30, max: 30 });
const corner = (x: number, y: number): fc.Arbitrary<Point> => fc.tuple(off, off).map(([u, v]) => ({ x: x + u, y: y + v }));
/** Corners of some paper that lies a little askew. */
const paper = fc.tuple(corner(100, 100), corner(500, 100), corner(500, 400), corner(100, 400));

describe('four corners', () => {
  it('are those that the rectangle’s come to', () => {
    fc.assert(
      fc.property(paper, (corners) => {
        const map = rectangleTo(corners, 320, 240);
        [
          [0, 0],
          [320, 0],
          [320, 240],
          [0, 240],
        ].forEach(([x, y], n) => {
          const at = pointAt(map, x, y);
          expect(at.x).toBeCloseTo(corners[n].x, 6);
          expect(at.y).toBeCloseTo(corners[n].y, 6);
        });
      }),
    );
  });

  it('keep straight lines straight', () => {
    fc.assert(
      fc.property(paper, (corners) => {
        const map = rectangleTo(corners, 1, 1);
        const [a, b, c] = [0.1, 0.4, 0.9].map((t) => pointAt(map, t, 0.2 + 0.5 * t));
        expect(((b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x)) / 400 ** 2).toBeCloseTo(0, 6);
      }),
    );
  });

  it('are convex where they run clockwise and none is turned in', () => {
    fc.assert(fc.property(paper, (corners) => isConvex(corners)));
    const [a, b, c, d]: Quadrilateral = [
      { x: 0, y: 0 },
      { x: 10, y: 0 },
      { x: 10, y: 10 },
      { x: 0, y: 10 },
    ];
    expect(isConvex([a, d, c, b])).toBe(false);
    expect(isConvex([a, b, { x: 2, y: 2 }, d])).toBe(false);
    expect(isConvex([a, c, b, d])).toBe(false);
  });

  it('are as long as the longer of two opposite sides', () => {
    const corners: Quadrilateral = [
      { x: 0, y: 0 },
      { x: 30, y: 0 },
      { x: 40, y: 50 },
      { x: 0, y: 40 },
    ];
    expect(sidesOf(corners)).toEqual({ width: Math.hypot(40, 10), height: Math.hypot(10, 50) });
  });
});

describe('the true shape of paper', () => {
  it('is that of the paper, wherever a camera looks at it from', () => {
    const frame = { width: 1200, height: 800 };
    fc.assert(
      fc.property(
        fc.double({ min: 0.6, max: 1.7, noNaN: true }),
        fc.double({ min: 0.15, max: 0.6, noNaN: true }),
        fc.double({ min: 0.15, max: 0.6, noNaN: true }),
        (shape, across, down) => {
          // Paper of that shape, turned about both axes, before a lens of a focal length of 1400 pixels.
          const seen = (u: number, v: number): Point => {
            const [x, y] = [shape * u, v];
            const [x1, z1] = [x * Math.cos(across), -x * Math.sin(across)];
            const [y2, z2] = [y * Math.cos(down) - z1 * Math.sin(down), y * Math.sin(down) + z1 * Math.cos(down)];
            const far = 5 + z2;
            return { x: 600 + (1400 * x1) / far, y: 400 + (1400 * y2) / far };
          };
          const corners: Quadrilateral = [seen(-1, -1), seen(1, -1), seen(1, 1), seen(-1, 1)];
          expect(trueShape(corners, frame) / shape).toBeCloseTo(1, 3);
        },
      ),
    );
  });
});
