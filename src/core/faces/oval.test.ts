import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { areaMask } from './areas';
import { convexHull, ovalMask } from './oval';

const point = fc.tuple(fc.nat(100), fc.nat(100)).map(([x, y]) => [x / 100, y / 100]);
const points = fc.array(point, { minLength: 3, maxLength: 30 }).map((list) => Float32Array.from(list.flat()));
const SIDE = 64;

describe('the shape round points', () => {
  it('is convex, and holds all of them', () => {
    fc.assert(
      fc.property(points, (given) => {
        const hull = convexHull(given);
        fc.pre(hull.length > 2);
        hull.forEach((a, n) => {
          const b = hull[(n + 1) % hull.length];
          for (let p = 0; p < given.length; p += 2) {
            const side = (b.x - a.x) * (given[p + 1] - a.y) - (b.y - a.y) * (given[p] - a.x);
            expect(side).toBeGreaterThan(-1e-6);
          }
        });
      }),
    );
  });
});

describe('an oval', () => {
  const circle = Float32Array.from({ length: 80 }, (_, i) => 0.5 + 0.3 * (i % 2 ? Math.sin : Math.cos)((2 * Math.PI * (i >> 1)) / 40));

  it('is 1 well inside, 0 outside, and never rises outwards', () => {
    const mask = ovalMask(circle, SIDE, 0.1);
    const at = (u: number, v: number): number => mask[Math.floor(v * SIDE) * SIDE + Math.floor(u * SIDE)];
    expect([at(0.5, 0.5), at(0.5, 0.35), at(0.05, 0.5), at(0.5, 0.97)]).toEqual([1, 1, 0, 0]);
    const ray = Array.from({ length: 30 }, (_, n) => at(0.5 + n / SIDE, 0.5));
    ray.slice(1).forEach((v, n) => expect(v).toBeLessThanOrEqual(ray[n]));
    expect(ray.some((v) => v > 0.2 && v < 0.8)).toBe(true);
  });

  it('of points in a line holds nothing', () => {
    expect(Math.max(...ovalMask(Float32Array.of(0.2, 0.2, 0.5, 0.5, 0.8, 0.8), SIDE, 0.1))).toBe(0);
  });
});

describe('areas', () => {
  // Eyes to the left and right above, the mouth below, all other points on the outline.
  const mesh = Float32Array.from({ length: 936 }, (_, i) => 0.5 + 0.45 * (i % 2 ? Math.sin : Math.cos)(i >> 1));
  const round = (list: number[], x: number, y: number): void =>
    list.forEach((n, k) => {
      mesh[2 * n] = x + 0.09 * Math.cos((2 * Math.PI * k) / list.length);
      mesh[2 * n + 1] = y + 0.07 * Math.sin((2 * Math.PI * k) / list.length);
    });
  round([70, 63, 105, 66, 107, 226, 31, 228, 229, 230, 231, 232, 233, 244], 0.32, 0.4);
  round([300, 293, 334, 296, 336, 446, 261, 448, 449, 450, 451, 452, 453, 464], 0.68, 0.4);
  round([57, 287, 164, 18, 165, 391, 43, 273], 0.5, 0.75);

  it('each get their share', () => {
    const mask = areaMask(mesh, SIDE, { eyes: 0.2, mouth: 0.5, skin: 0.9 });
    const at = (u: number, v: number): number => mask[Math.floor(v * SIDE) * SIDE + Math.floor(u * SIDE)];
    expect(at(0.32, 0.4)).toBeCloseTo(0.2, 5);
    expect(at(0.68, 0.4)).toBeCloseTo(0.2, 5);
    expect(at(0.5, 0.75)).toBeCloseTo(0.5, 5);
    expect(at(0.5, 0.15)).toBeCloseTo(0.9, 5);
  });

  it('of one share are all of it', () => {
    for (const v of areaMask(mesh, SIDE, { eyes: 0.6, mouth: 0.6, skin: 0.6 })) expect(v).toBeCloseTo(0.6, 5);
  });
});
