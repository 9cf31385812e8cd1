import { describe, expect, it } from 'vitest';
import { newPlane, type Picture, wholeRegion } from '../picture/picture';
import { randomStream } from '../picture/random';
import { streamInfo } from '../testing/pictures';
import { referredColours } from './reference';
import { tonesOf } from './tones';

const WIDTH = 192,
  HEIGHT = 144;

/** Lightness of a scene: one side dark and rough, the other light and even. */
function light(x: number, y: number, rough: boolean, random: () => number): number {
  return rough ? 60 + 50 * random() : 190 + 20 * Math.sin((x + y) / 40);
}

describe('colours by reference', () => {
  it('are those of places like them, wherever these lie in the other picture', async () => {
    const random = randomStream(5);
    const data = new Uint16Array(3 * WIDTH * HEIGHT);
    const info = streamInfo({ width: WIDTH, height: HEIGHT, frames: 1, planes: 1, chromaShiftX: 0, chromaShiftY: 0 });
    const plane = newPlane(WIDTH, HEIGHT);
    for (let i = 0; i < WIDTH * HEIGHT; i++) {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      const left = x < WIDTH / 2;
      // Rough and green at the left of the other picture, even and blue at its right; asked for the other way round.
      const given = light(x, y, left, random);
      data.set(left ? [0.7 * given, 1.2 * given, 0.6 * given] : [0.8 * given, 0.95 * given, 1.2 * given], 3 * i);
      plane.data[i] = 257 * light(x, y, !left, random);
    }
    const other = { width: WIDTH, height: HEIGHT, data: data.map((v) => Math.min(65535, 257 * v)) };
    const picture: Picture = { info, region: wholeRegion(info), planes: [plane] };
    const { width, height, answers, doubt } = await referredColours(tonesOf(picture), other);
    const mean = (index: number, left: boolean): number => {
      let sum = 0;
      for (let y = 2; y < height - 2; y++)
        for (let x = 2; x < width / 2 - 2; x++) sum += answers.likely[index * width * height + y * width + (left ? x : width - 1 - x)];
      return sum / ((height - 4) * (Math.ceil(width / 2) - 4));
    };
    // Even and light at the left: blue. Rough and dark at the right: green.
    expect(mean(0, true)).toBeGreaterThan(10);
    expect(mean(0, false)).toBeLessThan(-5);
    expect(mean(1, false)).toBeLessThan(-5);
    expect(Math.max(...doubt)).toBeLessThan(255);
  });
});
