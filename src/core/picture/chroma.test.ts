import { describe, expect, it } from 'vitest';
import { streamInfo } from '../testing/pictures';
import { withCoarserChroma, withFinerChroma } from './chroma';
import { newPlane, wholeRegion, type Picture } from './picture';

function coloured(shiftX: number, shiftY: number): Picture {
  const info = streamInfo({ width: 16, height: 8, chromaShiftX: shiftX, chromaShiftY: shiftY });
  const size = [16 >> shiftX, 8 >> shiftY] as const;
  const planes = [newPlane(16, 8, 9000), newPlane(...size), newPlane(...size)];
  planes[1].data.forEach((_, i, data) => (data[i] = 1000 * (i % size[0])));
  planes[2].data.forEach((_, i, data) => (data[i] = 500 * Math.floor(i / size[0])));
  return { info, region: wholeRegion(info), planes };
}

describe('withFinerChroma', () => {
  it('keeps what lies at the same place and is linear between', () => {
    const made = withFinerChroma(coloured(2, 0), 1, 0);
    expect(made.planes[1].width).toBe(8);
    expect([...made.planes[1].data.subarray(0, 8)]).toEqual([0, 500, 1000, 1500, 2000, 2500, 3000, 3000]);
    expect(made.info).toMatchObject({ chromaShiftX: 1, chromaShiftY: 0 });
  });

  it('puts lines a quarter beside the coarse ones', () => {
    const made = withFinerChroma(coloured(2, 2), 1, 1);
    expect([0, 1, 2, 3].map((y) => made.planes[2].data[y * 8])).toEqual([0, 125, 375, 500]);
  });

  it('leaves luma, and pictures that need nothing', () => {
    const picture = coloured(1, 1);
    expect(withFinerChroma(picture, 1, 1)).toBe(picture);
    expect(withFinerChroma(picture, 0, 0).planes[0]).toBe(picture.planes[0]);
  });
});

describe('withCoarserChroma', () => {
  it('brings smooth chroma back to where it was', () => {
    for (const [x, y] of [
      [1, 0],
      [1, 1],
    ]) {
      const before = coloured(x, y);
      const back = withCoarserChroma(withFinerChroma(before, 0, 0), x, y);
      expect(back.info).toEqual(before.info);
      // All but the outermost samples, beyond which there is nothing to lie between.
      const { width, height } = before.planes[1];
      for (let row = 1; row < height - 1; row++)
        for (let column = 1; column < width - 1; column++)
          for (const p of [1, 2])
            expect(Math.abs(back.planes[p].data[row * width + column] - before.planes[p].data[row * width + column])).toBeLessThan(3);
    }
    expect(withCoarserChroma(coloured(0, 0), 0, 0).planes[1].width).toBe(16);
  });
});
