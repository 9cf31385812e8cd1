import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newPlane, type Picture } from '../picture/picture';
import { streamInfo } from '../testing/pictures';
import { PictureCache } from './cache';

/** A monochrome picture of `width` x 10, 20 bytes a column. */
const strip = (x: number, width: number): Picture => ({
  info: streamInfo({ width: 400, height: 10, planes: 1 }),
  region: { x, y: 0, width, height: 10 },
  planes: [newPlane(width, 10)],
});
const region = (x: number, width: number): Picture['region'] => ({ x, y: 0, width, height: 10 });

describe('PictureCache', () => {
  it('finds any part of what it keeps, of that key and frame alone', () => {
    const cache = new PictureCache(10_000);
    const left = strip(0, 100),
      right = strip(200, 100);
    cache.keep('a', 1, left);
    cache.keep('a', 1, right);
    expect(cache.find('a', 1, region(10, 90))).toBe(left);
    expect(cache.find('a', 1, region(250, 50))).toBe(right);
    expect(cache.find('a', 1, region(90, 20))).toBeUndefined();
    expect(cache.find('a', 2, region(10, 10))).toBeUndefined();
    expect(cache.find('b', 1, region(10, 10))).toBeUndefined();
    cache.clear();
    expect(cache.find('a', 1, region(10, 90))).toBeUndefined();
  });

  it('gives up what was longest unused, and never takes what is too large for it', () => {
    const cache = new PictureCache(5_000);
    for (const n of [1, 2]) cache.keep('a', n, strip(0, 100));
    cache.find('a', 1, region(0, 10));
    cache.keep('a', 3, strip(0, 100));
    expect([1, 2, 3].map((n) => cache.find('a', n, region(0, 10)) !== undefined)).toEqual([true, false, true]);
    cache.keep('a', 4, strip(0, 300));
    expect(cache.find('a', 4, region(0, 10))).toBeUndefined();
    expect(cache.find('a', 3, region(0, 10))).toBeDefined();
  });

  it('keeps the newest whatever came before', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(5), fc.integer({ min: 1, max: 200 })), { minLength: 1, maxLength: 40 }), (kept) => {
        const cache = new PictureCache(4_000);
        for (const [frame, width] of kept) {
          cache.keep('a', frame, strip(0, width));
          expect(cache.find('a', frame, region(0, width))).toBeDefined();
        }
      }),
    );
  });
});
