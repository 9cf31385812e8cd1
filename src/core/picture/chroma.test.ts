import { describe, expect, it } from 'vitest';
import { streamInfo } from '../testing/pictures';
import { withFinerChroma } from './chroma';
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
