import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toldDate } from './about';
import { reduceRational } from './maps/rational';

describe('a told date', () => {
  it.each([
    ['1921', { year: '1921', exact: true }],
    ['1921-07', { year: '1921', month: '07', exact: true }],
    [' 1921-07-14 ', { year: '1921', month: '07', day: '14', exact: true }],
    ['about 1921', { year: '1921', exact: false }],
    ['summer 1948, the launch (1948)', { year: '1948', exact: false }],
    ['summer of 1921, Piraeus', { year: '1921', exact: false }],
    ['1921-13-01', { year: '1921', exact: false }],
  ])('"%s" is understood', (date, told) => {
    expect(toldDate(date)).toEqual(told);
  });

  it.each(['', 'long ago', 'between 1921 and 1924', 'before the war', 'no. 12345', '921', 'in 2199'])('"%s" tells no year', (date) => {
    expect(toldDate(date)).toBeUndefined();
  });
});

describe('lowest terms', () => {
  it('are the same number, and no common factor is left', () => {
    fc.assert(
      fc.property(fc.integer({ min: -1e6, max: 1e6 }), fc.integer({ min: 1, max: 1e6 }), (num, den) => {
        const low = reduceRational({ num, den });
        expect(low.num * den).toBe(num * low.den);
        expect(low.den).toBeGreaterThan(0);
        for (let p = 2; p <= 13; p++) expect(low.num !== 0 && low.num % p === 0 && low.den % p === 0).toBe(false);
      }),
    );
    expect(reduceRational({ num: 0, den: 7 })).toEqual({ num: 0, den: 1 });
    expect(reduceRational({ num: 30000, den: 1001 })).toEqual({ num: 30000, den: 1001 });
  });
});
