import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalStream } from '../picture/random';
import { centredFaces, clearness, likeness, type LikenessFace, CROWD } from './likeness';

const unit = (values: Float32Array): Float32Array => {
  const length = Math.hypot(...values);
  return values.map((v) => v / length);
};
/** A face near the mean of all, off it in a way of its own. */
function faceOf(seed: number, more: Partial<LikenessFace> = {}): LikenessFace {
  const normal = normalStream(seed);
  const near = (mean: Float32Array): Float32Array => unit(mean.map((v) => v + (0.6 / Math.sqrt(mean.length)) * normal()));
  return { residual: near(CROWD.residual.mean), separable: near(CROWD.separable.mean), pixels: 100, yaw: 0, ...more };
}

describe('likeness', () => {
  it('is the same both ways, highest for the same picture, and low for two people', () => {
    fc.assert(
      fc.property(fc.nat(1e6), fc.nat(1e6), (a, b) => {
        fc.pre(a !== b);
        const [one, other] = centredFaces([faceOf(a), faceOf(b)]);
        expect(likeness(one, other)).toBeCloseTo(likeness(other, one), 9);
        expect(likeness(one, one)).toBeGreaterThan(likeness(one, other) + 1);
        expect(likeness(one, other)).toBeLessThan(0);
      }),
      { numRuns: 40 },
    );
  });

  it('says less, both ways, where one of them is poor', () => {
    const [a, b] = centredFaces([faceOf(1), faceOf(2)]);
    const poor = { ...b, pixels: 12 };
    expect(Math.abs(likeness(a, poor))).toBeLessThan(Math.abs(likeness(a, b)));
    expect(Math.sign(likeness(a, poor))).toBe(Math.sign(likeness(a, b)));
  });

  it('compares what faces have of their own', () => {
    const centred = centredFaces([faceOf(3), faceOf(4), faceOf(5)]);
    for (const { residual, separable } of centred) {
      expect(Math.hypot(...residual)).toBeCloseTo(1, 4);
      expect(Math.hypot(...separable)).toBeCloseTo(1, 4);
      const alongMean = residual.reduce((sum, v, i) => sum + v * CROWD.residual.mean[i], 0);
      expect(Math.abs(alongMean)).toBeLessThan(0.5);
    }
  });
});

describe('people of one kind', () => {
  /** A face off the mean of all in a way of its own, and more so in the way of its kind. */
  const ofKind = (kind: number, seed: number): LikenessFace => {
    const face = faceOf(seed);
    const towards = (name: 'residual' | 'separable'): Float32Array =>
      unit(face[name].map((v, i) => v + 0.8 * CROWD[name].directions[kind][i]));
    return { ...face, residual: towards('residual'), separable: towards('separable') };
  };

  it.each([0, 3])('are not one person because of it (direction %i)', (kind) => {
    const faces = centredFaces([1, 2, 3, 4].map((n) => ofKind(kind, n)));
    faces.forEach((a, i) => faces.slice(0, i).forEach((b) => expect(likeness(a, b)).toBeLessThan(0)));
  });

  it('differ along directions that are of length 1 and square to one another', () => {
    for (const { directions, kept } of [CROWD.residual, CROWD.separable]) {
      expect(kept).toHaveLength(directions.length);
      expect(kept.every((share, k) => share > 0 && share <= 1.001 && share >= (kept[k - 1] ?? 0))).toBe(true);
      directions.forEach((a, i) =>
        directions.slice(0, i + 1).forEach((b, j) => {
          const dot = a.reduce((sum, v, k) => sum + v * b[k], 0);
          expect(dot).toBeCloseTo(i === j ? 1 : 0, 2);
        }),
      );
    }
  });
});

describe('how far a face can be relied on', () => {
  it('grows with its size and falls with its turn', () => {
    expect(clearness({ pixels: 200, yaw: 0 })).toBe(1);
    expect(clearness({ pixels: 200, yaw: -14 })).toBe(1);
    expect(clearness({ pixels: 24, yaw: 0 })).toBe(0.5);
    expect(clearness({ pixels: 1, yaw: 0 })).toBe(0.35);
    expect(clearness({ pixels: 200, yaw: 60 })).toBeCloseTo(0.5, 9);
    expect(clearness({ pixels: 200, yaw: -60 })).toBeCloseTo(0.5, 9);
  });
});
