import { describe, expect, it } from 'vitest';
import { CHROMA_SHIFTS, picture, streamInfo } from '../testing/pictures';
import { halvedPart } from './halved';
import { cutPicture } from './picture';

describe.each(CHROMA_SHIFTS)('a picture whose chroma is 2^%i and 2^%i times as coarse, at half the size', (chromaShiftX, chromaShiftY) => {
  const whole = picture(streamInfo({ width: 96, height: 64, chromaShiftX, chromaShiftY }));
  const frame = { width: 48, height: 32 };
  const half = halvedPart(whole, { x: 0, y: 0, ...frame }, frame);

  it('has in each pixel the mean of four, and chroma for each', () => {
    half.planes.forEach((plane, n) => {
      const shiftX = n ? chromaShiftX : 0,
        shiftY = n ? chromaShiftY : 0;
      const from = whole.planes[n];
      expect([plane.width, plane.height]).toEqual([48, 32]);
      for (const [x, y] of [
        [0, 0],
        [17, 9],
        [47, 31],
      ]) {
        const four = [0, 1].flatMap((dy) =>
          [0, 1].map((dx) => from.data[((2 * y + dy) >> shiftY) * from.width + ((2 * x + dx) >> shiftX)]),
        );
        expect(plane.data[y * 48 + x]).toBe((four.reduce((sum, v) => sum + v, 2) / 4) | 0);
      }
    });
  });

  it('is the same in a part, whichever part of the picture is at hand', () => {
    const part = { x: 10, y: 4, width: 21, height: 15 };
    const held = cutPicture(whole, { x: 16, y: 8, width: 60, height: 40 });
    const made = halvedPart(held, part, frame);
    const wanted = cutPicture(half, part);
    made.planes.forEach((plane, n) => expect([...plane.data]).toEqual([...wanted.planes[n].data]));
  });
});
