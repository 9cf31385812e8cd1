import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomStream } from '../picture/random';
import { rimmed } from './rim';

const WIDTH = 60,
  HEIGHT = 50;
const all = Array.from({ length: WIDTH * HEIGHT }, (_, i) => i);
const away = (i: number): number => Math.hypot((i % WIDTH) - 30, Math.floor(i / WIDTH) - 25);
const disc = (radius: number): Uint8Array => Uint8Array.from(all, (i) => Number(away(i) <= radius));

describe('the rim of damage', () => {
  const random = randomStream(2);
  const ground = Float64Array.from(all, (i) => 30000 + 40 * (i % WIDTH) + 600 * (random() - 0.5));
  /** A spot of radius 6 with a soft border. */
  const spot = (level: number): Uint16Array =>
    Uint16Array.from(all, (i) => ground[i] + (level - ground[i]) * Math.min(1, Math.max(0, (7 - away(i)) / 2)));

  it('is taken in, be the damage light or dark', () => {
    for (const level of [5000, 62000]) {
      const found = rimmed(disc(5), spot(level), WIDTH, HEIGHT);
      for (const i of all) {
        if (away(i) <= 6.2) expect(found[i]).toBe(1);
        if (away(i) > 7) expect(found[i]).toBe(0);
      }
    }
  });

  it('is nowhere where the mask is wide enough, nor where damage is hardly seen', () => {
    expect(rimmed(disc(8), spot(5000), WIDTH, HEIGHT)).toEqual(disc(8));
    expect(
      rimmed(
        disc(5),
        Uint16Array.from(all, (i) => ground[i] + (away(i) < 6 ? 1500 : 0)),
        WIDTH,
        HEIGHT,
      ),
    ).toEqual(disc(5));
  });

  it('takes nothing from a mask, and nothing far from it', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e6 }), fc.integer({ min: 1, max: 12 }), (seed, radius) => {
        const noise = randomStream(seed);
        const mask = disc(radius);
        const found = rimmed(
          mask,
          Uint16Array.from(all, () => 65535 * noise()),
          WIDTH,
          HEIGHT,
        );
        for (const i of all) {
          if (mask[i]) expect(found[i]).toBe(1);
          if (away(i) > radius + 3) expect(found[i]).toBe(0);
        }
      }),
      { numRuns: 10 },
    );
  });
});
