import fc from 'fast-check';
import { expect, it } from 'vitest';
import { newPlane } from '../picture/picture';
import { randomStream } from '../picture/random';
import { areaPicture } from '../picture/reduced';
import { picture, streamInfo } from '../testing/pictures';
import { reducedArea } from './reduce';
import { referenceReduce } from './reference/reduce';

it('reduces as the reference does, whatever the sizes', () => {
  const side = fc.integer({ min: 1, max: 40 });
  fc.assert(
    fc.property(side, side, fc.nat(999), fc.double({ min: 0.03, max: 1, noNaN: true }), (width, height, seed, by) => {
      const random = randomStream(seed);
      const plane = newPlane(width, height);
      plane.data.forEach((_, i) => (plane.data[i] = random() * 65536));
      const [w, h] = [Math.max(1, Math.round(width * by)), Math.max(1, Math.floor(height * by))];
      const [made, wanted] = [reducedArea(plane, w, h), referenceReduce(plane, w, h)];
      expect([made.width, made.height]).toEqual([w, h]);
      // A sum's last bit may decide how a half is rounded.
      made.data.forEach((v, i) => expect(Math.abs(v - wanted.data[i])).toBeLessThanOrEqual(1));
    }),
  );
});

it('gives chroma of half the grain a sample for each of luma’s, and leaves what is too small', () => {
  const source = picture(streamInfo({ width: 96, height: 64, chromaShiftX: 1, chromaShiftY: 1 }));
  const made = areaPicture(source, 40, 25);
  expect(made?.planes.map(({ width, height }) => [width, height])).toEqual([
    [40, 25],
    [40, 25],
    [40, 25],
  ]);
  expect(made?.info).toMatchObject({ width: 40, height: 25, chromaShiftX: 0, chromaShiftY: 0 });
  // Chroma has 48 samples a row.
  expect(areaPicture(source, 50, 30)).toBeUndefined();
});
