import { describe, expect, it } from 'vitest';
import { CHROMA_SHIFTS, picture, streamInfo } from '../testing/pictures';
import { areaPicture, reducedPicture, reducedPlane } from './reduced';

const mean = (data: ArrayLike<number>): number => Array.from(data).reduce((sum, v) => sum + v, 0) / data.length;

describe.each(CHROMA_SHIFTS)('a picture whose chroma is 2^%i and 2^%i times as coarse', (chromaShiftX, chromaShiftY) => {
  const info = streamInfo({ width: 96, height: 64, chromaShiftX, chromaShiftY });
  const whole = picture(info);

  it.each([2, 4])('reduced by %i keeps its mean in every plane', (by) => {
    const reduced = reducedPicture(whole, by);
    expect([reduced.info.width, reduced.info.height]).toEqual([96 / by, 64 / by]);
    reduced.planes.forEach((plane, n) => {
      expect(plane.width).toBe(whole.planes[n].width / by);
      expect(Math.abs(mean(plane.data) - mean(whole.planes[n].data))).toBeLessThan(1);
    });
  });

  it('reduced plane by plane holds as many samples of chroma as of luma', () => {
    for (const index of [0, 1, 2]) {
      const plane = reducedPlane(whole, index, 4, 24, 16);
      expect(plane).toHaveLength(24 * 16);
      expect(Math.abs(mean(plane) - mean(whole.planes[index].data))).toBeLessThan(1);
    }
  });

  it('at another size is the mean of the areas', () => {
    const small = areaPicture(whole, 24, 16);
    small?.planes.forEach((plane, n) => {
      expect([plane.width, plane.height]).toEqual([24, 16]);
      expect(Math.abs(mean(plane.data) - mean(whole.planes[n].data))).toBeLessThan(2);
    });
    expect(areaPicture(whole, 97, 16)).toBeUndefined();
  });
});

describe('a picture of any size', () => {
  it('is reduced to whole samples of chroma, and stays itself reduced by one', () => {
    const odd = picture(streamInfo({ width: 93, height: 61 }));
    const reduced = reducedPicture(odd, 4);
    expect([reduced.info.width % 2, reduced.info.height % 2]).toEqual([0, 0]);
    expect(reduced.planes[1].width).toBe(reduced.info.width / 2);
    expect(reducedPicture(odd, 1)).toBe(odd);
  });
});
