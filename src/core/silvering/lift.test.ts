import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EVEN_ODDS } from '../networks/odds';
import { cutPicture, NEUTRAL_CHROMA, newPlane, type Picture, wholeRegion } from '../picture/picture';
import { randomPlane, streamInfo } from '../testing/pictures';
import type { Silvering } from './find';
import { liftSilvering } from './lift';

const SIZE = { width: 64, height: 48 };

/** A veil all over a picture. @param cover and what follows from 0 to 1. */
function veilOf(cover: number, [luma, blue, red]: [number, number, number]): Silvering {
  const filled = (v: number): Uint8Array => new Uint8Array(16 * 16).fill(Math.round(255 * v));
  return { width: 16, height: 16, odds: filled(1), strength: filled(cover), colour: [filled(luma), filled(blue), filled(red)] };
}

const info = streamInfo({
  ...SIZE,
  ...{ frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
  colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
});

/** Every lightness between two, over 1, of one colour. */
function ramp(least: number, most: number, [blue, red]: [number, number]): Picture {
  const planes = [least, blue, red].map(() => newPlane(SIZE.width, SIZE.height));
  planes[0].data.forEach((_, i, data) => (data[i] = Math.round(65535 * (least + ((most - least) * (i % SIZE.width)) / (SIZE.width - 1)))));
  planes[1].data.fill(Math.round(NEUTRAL_CHROMA + 65535 * blue));
  planes[2].data.fill(Math.round(NEUTRAL_CHROMA + 65535 * red));
  return { info, region: wholeRegion(info), planes };
}

/** The picture under a veil, as it is said to lie over it. */
function underVeil(picture: Picture, { strength, colour }: Silvering): Picture {
  const [own, blue, red] = colour.map((plane) => plane[0] / 255);
  const lumas = picture.planes[0].data;
  const planes = picture.planes.map((plane, p) => {
    const data = plane.data.map((v, i) => {
      const y = lumas[i] / 65535;
      const share = (strength[0] / 255) * (1.15 - y);
      return Math.round(v + share * (65535 * [own, blue, red][p] + (p ? NEUTRAL_CHROMA - 65535 * 0.5 : 0) - v));
    });
    return { ...plane, data };
  });
  return { ...picture, planes };
}

const ALL = { sure: 0.8, strength: 1 };
const off = (a: Picture, b: Picture): number[] =>
  a.planes.map(({ data }, p) => data.reduce((most, v, i) => Math.max(most, Math.abs(v - b.planes[p].data[i]) / 257), 0));

describe('silvering lifted', () => {
  it('gives back what is under any veil that does not turn light and dark round', () => {
    const part = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(part, part, part, part, (cover, luma, blue, red) => {
        const veil = veilOf(0.05 + 0.27 * cover, [0.4 + 0.4 * luma, 0.5 + 0.06 * blue, 0.5 - 0.06 * red]);
        const truth = ramp(0, 1, [0.1 * red - 0.05, 0.1 * blue - 0.05]);
        expect(Math.max(...off(liftSilvering(underVeil(truth, veil), truth.region, veil, ALL), truth))).toBeLessThan(0.05);
      }),
      { numRuns: 40 },
    );
  });

  it('gives a monochrome print its tone back', () => {
    const veil = veilOf(0.33, [0.6, 0.55, 0.47]);
    const tone = { blue: Array.from({ length: 17 }, () => -0.06), red: Array.from({ length: 17 }, () => 0.05) };
    const truth = ramp(0, 0.2, [-0.06, 0.05]);
    const made = liftSilvering(underVeil(truth, veil), truth.region, { ...veil, tone }, ALL);
    expect(Math.max(...off(made, truth))).toBeLessThan(0.1);
  });

  it('of a veil that hides dark parts from one another makes nothing lighter, and noise no more than three times as strong', () => {
    const veil = veilOf(0.8, [0.65, 0.53, 0.48]);
    const seen = ramp(0.2, 0.6, [0, 0]);
    const made = liftSilvering(seen, seen.region, veil, ALL).planes[0].data;
    const step = (0.4 * 65535) / (SIZE.width - 1);
    for (let x = 0; x < SIZE.width; x++) {
      expect(made[x]).toBeLessThanOrEqual(seen.planes[0].data[x]);
      if (x > 0) expect(made[x] - made[x - 1]).toBeGreaterThanOrEqual(0);
      if (x > 0) expect(made[x] - made[x - 1]).toBeLessThanOrEqual(3 * step + 8);
    }
  });

  it('leaves what is not veiled for sure, and everything at no strength, as it is', () => {
    const picture: Picture = { info, region: wholeRegion(info), planes: [1, 2, 3].map((seed) => randomPlane(64, 48, seed)) };
    const veil = veilOf(0.5, [0.6, 0.53, 0.48]);
    expect(liftSilvering(picture, picture.region, { ...veil, odds: veil.odds.map(() => EVEN_ODDS) }, ALL)).toEqual(picture);
    expect(liftSilvering(picture, picture.region, veil, { ...ALL, strength: 0 })).toEqual(picture);
  });

  it('makes the same of a part as of the whole', () => {
    const picture: Picture = { info, region: wholeRegion(info), planes: [1, 2, 3].map((seed) => randomPlane(64, 48, seed)) };
    const veil = veilOf(0.5, [0.6, 0.53, 0.48]);
    veil.odds.forEach((_, i) => (veil.odds[i] = (i * 37) % 256));
    veil.strength.forEach((_, i) => (veil.strength[i] = (i * 71) % 256));
    const region = { x: 10, y: 6, width: 30, height: 22 };
    const whole = liftSilvering(picture, picture.region, veil, ALL);
    expect(whole).not.toEqual(picture);
    expect(liftSilvering(picture, region, veil, ALL)).toEqual(cutPicture(whole, region));
  });
});
