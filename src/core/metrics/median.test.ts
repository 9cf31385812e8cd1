import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { median } from './median';

describe('the median', () => {
  it('is the middle value, of an even number the higher of the two, and 0 of none', () => {
    expect(median([3, 1, 2])).toBe(2);
    expect(median(Uint16Array.of(10, 2, 9, 4))).toBe(9);
    expect(median([])).toBe(0);
  });

  it('has as many values below it as above, and leaves what it is given as it was', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -1000, max: 1000 }), { minLength: 1 }), (values) => {
        const before = [...values];
        const middle = median(values);
        expect(values).toEqual(before);
        expect(values.filter((v) => v < middle).length).toBeLessThanOrEqual(values.length >> 1);
        expect(values.filter((v) => v > middle).length).toBeLessThan(values.length - (values.length >> 1));
      }),
    );
  });
});
