import { describe, expect, it } from 'vitest';
import { ageSpan, referenceWorth } from './reference';

describe('references', () => {
  it('are better the larger, the sharper and the more from the front', () => {
    const worth = referenceWorth({ pixels: 120, yaw: 0, blur: 0.6 });
    expect(referenceWorth({ pixels: 60, yaw: 0, blur: 0.6 })).toBeLessThan(worth);
    expect(referenceWorth({ pixels: 120, yaw: 0, blur: 3 })).toBeLessThan(worth);
    expect(referenceWorth({ pixels: 120, yaw: 40, blur: 0.6 })).toBeLessThan(worth);
    expect(referenceWorth({ pixels: 400, yaw: 0, blur: 0.4 })).toBeLessThanOrEqual(1);
  });

  it('are of a span of years, narrow in childhood', () => {
    expect([0, 2, 3, 40, 90].map(ageSpan)).toEqual([
      [0, 3],
      [0, 3],
      [3, 7],
      [35, 45],
      [75, 130],
    ]);
  });
});
