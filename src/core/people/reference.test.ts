import { describe, expect, it } from 'vitest';
import { ageSpan, referenceFit, referenceWorth } from './reference';

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

describe('a reference for a face', () => {
  const poor = { pixels: 40, yaw: 5, blur: 1, year: 1950 };
  const fit = (other: Parameters<typeof referenceFit>[1], born?: number): number => referenceFit(poor, other, born);

  it('fits the better the nearer it is in pose and in age', () => {
    const best = fit({ pixels: 150, yaw: 0, blur: 1, year: 1951 });
    expect(fit({ pixels: 150, yaw: 60, blur: 1, year: 1951 })).toBeLessThan(0.2 * best);
    expect(fit({ pixels: 150, yaw: 0, blur: 1, year: 1990 })).toBeLessThan(0.2 * best);
    expect(fit({ pixels: 150, yaw: 0, blur: 1 })).toBeLessThan(best);
    // Three years are much to a child, and nothing to the grown-up.
    const later = { pixels: 150, yaw: 0, blur: 1, year: 1953 };
    expect(fit(later, 1948)).toBeLessThan(fit(later, 1923));
  });

  it('is none where it shows no more', () => {
    expect(fit({ pixels: 40, yaw: 5, blur: 1, year: 1950 })).toBe(0);
    expect(fit({ pixels: 25, yaw: 5, blur: 0.3, year: 1950 })).toBe(0);
    expect(fit({ pixels: 70, yaw: 5, blur: 8, year: 1950 })).toBe(0);
    expect(fit({ pixels: 60, yaw: 5, blur: 1, year: 1950 })).toBeGreaterThan(0);
  });
});
