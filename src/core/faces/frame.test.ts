import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitted, FRAME, invert, moved, type Similarity, within } from './frame';

const number = (most: number): fc.Arbitrary<number> => fc.double({ min: -most, max: most, noNaN: true });
const similarity: fc.Arbitrary<Similarity> = fc
  .record({ a: number(5), b: number(5), x: number(300), y: number(300) })
  .filter(({ a, b }) => Math.hypot(a, b) > 0.2);
const at = (by: Similarity, u: number, v: number): Float64Array => {
  const out = new Float64Array(2);
  moved(by, u, v, out, 0);
  return out;
};
const near = (a: Float64Array, b: Float64Array | number[], digits = 6): void => a.forEach((v, i) => expect(v).toBeCloseTo(b[i], digits));

describe('similarities', () => {
  it('come back', () => {
    fc.assert(
      fc.property(similarity, number(200), number(200), (by, u, v) => {
        const there = at(by, u, v);
        near(at(invert(by), there[0], there[1]), [u, v]);
      }),
    );
  });

  it('follow one another', () => {
    fc.assert(
      fc.property(similarity, similarity, number(100), number(100), (outer, inner, u, v) => {
        const once = at(inner, u, v);
        near(at(within(outer, inner), u, v), at(outer, once[0], once[1]));
      }),
    );
  });

  it('keep angles, and the shares of lengths', () => {
    fc.assert(
      fc.property(similarity, (by) => {
        const [o, p, q] = [at(by, 0, 0), at(by, 1, 0), at(by, 0, 1)];
        const length = Math.hypot(p[0] - o[0], p[1] - o[1]);
        expect(length).toBeCloseTo(Math.hypot(by.a, by.b), 6);
        expect(Math.hypot(q[0] - o[0], q[1] - o[1])).toBeCloseTo(length, 6);
        expect((p[0] - o[0]) * (q[0] - o[0]) + (p[1] - o[1]) * (q[1] - o[1])).toBeCloseTo(0, 6);
      }),
    );
  });
});

describe('a face', () => {
  it('is laid straight from wherever it stands, however large and turned', () => {
    fc.assert(
      fc.property(similarity, (by) => {
        // Landmarks of a face that stands there.
        const landmarks = new Float64Array(10);
        for (let n = 0; n < 5; n++) moved(by, FRAME[2 * n], FRAME[2 * n + 1], landmarks, 2 * n);
        const straight = fitted(landmarks, 96);
        for (let n = 0; n < 5; n++)
          near(at(straight, landmarks[2 * n], landmarks[2 * n + 1]), [96 * FRAME[2 * n], 96 * FRAME[2 * n + 1]], 4);
      }),
    );
  });
});
