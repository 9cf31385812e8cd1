import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CHROMA_SHIFTS, picture, streamInfo } from '../testing/pictures';
import {
  chromaGrid,
  chromaSize,
  contains,
  copyPicture,
  coveringBoth,
  cutPicture,
  cutPlane,
  growRegion,
  insideFrame,
  newPlane,
  type Picture,
  planeRegion,
  putPart,
  type Region,
  regionsMeet,
  type StreamInfo,
  wholeRegion,
} from './picture';

const regions = fc.record({
  x: fc.integer({ min: -40, max: 140 }),
  y: fc.integer({ min: -40, max: 140 }),
  width: fc.integer({ min: 1, max: 90 }),
  height: fc.integer({ min: 1, max: 90 }),
});

/** A part of a frame whose corners lie on its grid, but where the frame ends. */
const partOf = (info: StreamInfo): fc.Arbitrary<Region> =>
  fc
    .tuple(fc.nat(info.width - 1), fc.nat(info.height - 1), fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 40 }))
    .map(([x, y, width, height]) =>
      growRegion({ x, y, width: Math.min(width, info.width - x), height: Math.min(height, info.height - y) }, 0, chromaGrid(info), info),
    );

const alike = (a: Picture, b: Picture): boolean =>
  a.planes.every(({ data }, n) => data.length === b.planes[n].data.length && data.every((v, i) => v === b.planes[n].data[i]));

describe('regions', () => {
  it('grow by their border, to the grid, and not beyond the frame', () => {
    fc.assert(
      fc.property(regions, fc.nat(12), fc.constantFrom(1, 2, 4, 8), (given, border, grid) => {
        const frame = { width: 101, height: 87 };
        const region = insideFrame(given, frame);
        fc.pre(region.width > 0 && region.height > 0);
        const grown = growRegion(region, border, grid, frame);
        expect(contains(grown, region)).toBe(true);
        expect(contains(wholeRegion(frame), grown)).toBe(true);
        expect([grown.x % grid, grown.y % grid]).toEqual([0, 0]);
        const right = grown.x + grown.width;
        expect(right === frame.width || right % grid === 0).toBe(true);
        expect(region.x - grown.x).toBeLessThan(border + grid);
        expect(grown.x === 0 || region.x - grown.x >= border).toBe(true);
      }),
    );
  });

  it('are covered by the smallest that holds both', () => {
    fc.assert(
      fc.property(regions, regions, (a, b) => {
        const both = coveringBoth(a, b);
        expect([contains(both, a), contains(both, b)]).toEqual([true, true]);
        expect([both.x, both.y]).toEqual([Math.min(a.x, b.x), Math.min(a.y, b.y)]);
        expect(both).toEqual(coveringBoth(b, a));
      }),
    );
  });

  it('meet where they share a pixel', () => {
    fc.assert(
      fc.property(regions, regions, (a, b) => {
        const across = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x),
          down = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
        expect(regionsMeet(a, b)).toBe(across > 0 && down > 0);
      }),
    );
  });

  it('that lie outside of a frame have nothing in it', () => {
    expect(insideFrame({ x: 120, y: 3, width: 9, height: 9 }, { width: 100, height: 50 }).width).toBe(0);
    expect(insideFrame({ x: -5, y: -6, width: 20, height: 20 }, { width: 100, height: 50 })).toEqual({ x: 0, y: 0, width: 15, height: 14 });
  });
});

describe.each(CHROMA_SHIFTS)('a picture whose chroma is 2^%i and 2^%i times as coarse', (chromaShiftX, chromaShiftY) => {
  // Sizes that no grid divides.
  const info = streamInfo({ width: 61, height: 47, chromaShiftX, chromaShiftY });
  const whole = picture(info);

  it('has planes of the size that its regions say', () => {
    const size = chromaSize(info, info.width, info.height);
    expect(whole.planes.map(({ width, height }) => [width, height])).toEqual([[61, 47], ...[1, 2].map(() => [size.width, size.height])]);
    expect(planeRegion(info, 1, wholeRegion(info))).toEqual({ x: 0, y: 0, ...size });
  });

  it('is whole again when its parts are put back', () => {
    fc.assert(
      fc.property(fc.array(partOf(info), { maxLength: 4 }), (parts) => {
        const made = copyPicture(whole, wholeRegion(info));
        for (const plane of made.planes) plane.data.fill(1);
        putPart(made, whole);
        for (const part of parts) putPart(made, cutPicture(whole, part));
        expect(alike(made, whole)).toBe(true);
      }),
    );
  });

  it('is cut from a part as from the whole', () => {
    fc.assert(
      fc.property(partOf(info), partOf(info), (a, b) => {
        const outer = coveringBoth(a, b);
        expect(alike(cutPicture(cutPicture(whole, outer), a), cutPicture(whole, a))).toBe(true);
      }),
    );
  });

  it('gives copies that may be written to', () => {
    const copy = copyPicture(whole, wholeRegion(info));
    copy.planes[0].data[5]++;
    expect(copy.planes[0].data[5]).not.toBe(whole.planes[0].data[5]);
    expect(cutPicture(whole, wholeRegion(info))).toBe(whole);
  });
});

describe('planes', () => {
  it('are not cut beyond their border', () => {
    const plane = newPlane(8, 6, 7);
    expect(cutPlane(plane, 2, 1, 3, 4)).toEqual(newPlane(3, 4, 7));
    for (const [x, y, width, height] of [
      [-1, 0, 3, 3],
      [6, 0, 3, 3],
      [0, 4, 3, 3],
    ])
      expect(() => cutPlane(plane, x, y, width, height)).toThrow(RangeError);
  });
});
