import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fromRgb } from '../picture/matrix';
import { type Picture, wholeRegion } from '../picture/picture';
import { randomStream } from '../picture/random';
import { streamInfo } from '../testing/pictures';
import type { Rgb } from '../vision/rgb';
import { refineSubject } from './refine';
import { subjectMask } from './subject';

const WIDTH = 200,
  HEIGHT = 160,
  SIDE = 32;
/** A disc of one colour before a ground of another, both with a little noise. */
const inDisc = (x: number, y: number): boolean => Math.hypot(x - 104, y - 78) < 51;
function disc(): Rgb {
  const random = randomStream(3);
  const data = new Uint8Array(3 * WIDTH * HEIGHT);
  for (let i = 0; i < WIDTH * HEIGHT; i++) {
    const colour = inDisc(i % WIDTH, Math.floor(i / WIDTH)) ? [170, 120, 90] : [70, 90, 110];
    colour.forEach((v, c) => (data[3 * i + c] = Math.round(v + 12 * (random() - 0.5))));
  }
  return { data, width: WIDTH, height: HEIGHT };
}
/** Where a network thinks it is: blurred, on a coarse raster, and a little off. */
const coarse = Float32Array.from({ length: SIDE * SIDE }, (_, i) => {
  const far = Math.hypot(((i % SIDE) + 0.5) * (WIDTH / SIDE) - 107, (Math.floor(i / SIDE) + 0.5) * (HEIGHT / SIDE) - 75) - 50;
  return 1 / (1 + Math.exp(far / 6));
});
const picture = (rgb: Rgb): Picture =>
  fromRgb(
    rgb.data,
    3,
    streamInfo({
      ...{ width: WIDTH, height: HEIGHT, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
      colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
    }),
  );

describe('a subject', () => {
  const rgb = disc();
  const found = refineSubject(coarse, SIDE, rgb);
  const source = picture(rgb);
  const whole = wholeRegion(source.info);

  it('is brought from a coarse guess to the edges of the picture', () => {
    const mask = subjectMask(found, source, whole);
    let wrong = 0,
      guessed = 0;
    for (let i = 0; i < mask.length; i++) {
      const x = i % WIDTH,
        y = Math.floor(i / WIDTH);
      const truth = inDisc(x, y);
      if (mask[i] >= 0.5 !== truth) wrong++;
      if (Math.hypot(x - 107, y - 75) < 50 !== truth) guessed++;
    }
    expect(guessed).toBeGreaterThan(700);
    expect(wrong).toBeLessThan(40);
    expect(found.share).toBeCloseTo((Math.PI * 51 ** 2) / (WIDTH * HEIGHT), 1);
  });

  it('is the same in any part as in the whole', () => {
    const mask = subjectMask(found, source, whole);
    fc.assert(
      fc.property(fc.nat(120), fc.nat(90), (x, y) => {
        const part = subjectMask(found, source, { x, y, width: 70, height: 60 });
        for (let v = 0; v < 60; v++)
          expect(part.subarray(70 * v, 70 * (v + 1))).toEqual(mask.subarray((y + v) * WIDTH + x, (y + v) * WIDTH + x + 70));
      }),
      { numRuns: 20 },
    );
  });
});
