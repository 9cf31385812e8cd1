import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalStream } from '../picture/random';
import { centredFaces, clearness, likeness, type LikenessFace, MEAN_FACE } from './likeness';

const unit = (values: Float32Array): Float32Array => {
  const length = Math.hypot(...values);
  return values.map((v) => v / length);
};
/** A face near the mean of all, off it in a way of its own. */
function faceOf(seed: number, more: Partial<LikenessFace> = {}): LikenessFace {
  const normal = normalStream(seed);
  const near = (mean: Float32Array): Float32Array => unit(mean.map((v) => v + (0.6 / Math.sqrt(mean.length)) * normal()));
  return { residual: near(MEAN_FACE.residual), separable: near(MEAN_FACE.separable), pixels: 100, yaw: 0, ...more };
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
      const alongMean = residual.reduce((sum, v, i) => sum + v * MEAN_FACE.residual[i], 0);
      expect(Math.abs(alongMean)).toBeLessThan(0.5);
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
