import { describe, expect, it } from 'vitest';
import { SIGMA_UNIT } from '../picture/picture';
import { noisyPlane, randomPlane, texturedPlane } from '../testing/pictures';
import { withBlocks } from './standing';

const GRID = { blockWidth: 16, blockHeight: 16, columns: 5, rows: 3 };
/** Sizes that end in the middle of a block and of eight samples. */
const WIDTH = 75,
  HEIGHT = 42;

describe('differences of blocks', () => {
  it('are twice the power of the noise two planes have, block by block', () => {
    const clean = texturedPlane(WIDTH, HEIGHT);
    const [a, b] = [1, 2].map((seed) => noisyPlane(clean, 8 * SIGMA_UNIT, seed));
    const [apart, same] = withBlocks([a, b], GRID, (blocks) => blocks.differences(0, [1, 0]));
    expect(apart).toHaveLength(15);
    for (const v of apart.slice(0, 4)) expect(Math.abs(v / 128 - 1)).toBeLessThan(0.35);
    expect(same.every((v) => v === 0)).toBe(true);
  });

  it('do not overflow where black stands against white', () => {
    const black = { width: WIDTH, height: HEIGHT, data: new Uint16Array(WIDTH * HEIGHT) };
    const white = { ...black, data: black.data.map(() => 65280) };
    const [apart] = withBlocks([black, white], GRID, (blocks) => blocks.differences(0, [1]));
    expect(apart.every((v) => Math.abs(v - 255 ** 2) < 40)).toBe(true);
  });
});

describe('means of blocks', () => {
  it('differ by what noise they have left', () => {
    const noisy = [1, 2, 3, 4].map((seed) => noisyPlane(texturedPlane(WIDTH, HEIGHT), 8 * SIGMA_UNIT, seed));
    const all = (mask: number): Uint32Array => new Uint32Array(15).fill(mask);
    const apart = withBlocks(noisy, GRID, (blocks) => blocks.differenceOfMeans(all(0b0011), all(0b1100)));
    for (const v of apart.slice(0, 4)) expect(Math.abs(v / 64 - 1)).toBeLessThan(0.35);
  });

  it('takes the planes whose bits a block has', () => {
    const planes = [1, 2, 3].map((seed) => randomPlane(WIDTH, HEIGHT, seed));
    const masks = Uint32Array.from({ length: 15 }, (_, i) => 1 + (i % 7));
    const made = withBlocks(planes, GRID, (blocks) => blocks.average(masks));
    made.data.forEach((v, i) => {
      const mask = masks[Math.floor(Math.floor(i / WIDTH) / 16) * 5 + Math.floor((i % WIDTH) / 16)];
      const used = planes.filter((_, n) => (mask >> n) & 1);
      const mean = used.reduce((sum, p) => sum + p.data[i], 0) / used.length;
      expect(Math.abs(v - mean)).toBeLessThanOrEqual(0.51);
    });
  });
});
