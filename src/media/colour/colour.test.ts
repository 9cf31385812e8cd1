import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { randomStream } from '../../core/picture/random';
import { tagProfile } from '../metadata';
import { convertRgb } from './convert';
import { readProfile } from './profile';
import { inverse, product, profileOf, rgbSpace } from './spaces';

const RGB_SPACES = ['srgb', 'display-p3', 'wide'] as const;

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(tmpdir(), 'profiles-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const random = randomStream(5);
const pixels = Uint8Array.from({ length: 3 * 400 }, () => Math.floor(random() * 256));

describe('a profile', () => {
  it.each(RGB_SPACES)('of %s says what it was made of', (name) => {
    const read = readProfile(profileOf(name));
    const { toXyz, curves, name: called } = rgbSpace(name);
    expect(read?.name).toBe(called);
    read?.toXyz.forEach((row, n) => row.forEach((v, m) => expect(v).toBeCloseTo(toXyz[n][m], 4)));
    for (const v of [0, 0.02, 0.3, 1]) expect(read?.curves[1](v)).toBeCloseTo(curves[1](v), 4);
  });

  it('of sRGB has the published matrix to D50', () => {
    const published = [
      [0.4361, 0.3851, 0.1431],
      [0.2225, 0.7169, 0.0606],
      [0.0139, 0.0971, 0.7142],
    ];
    rgbSpace('srgb').toXyz.forEach((row, n) => row.forEach((v, m) => expect(v).toBeCloseTo(published[n][m], 3)));
  });

  it('that is damaged, cut off or no space of red, green and blue is none', () => {
    const good = profileOf('srgb');
    expect(readProfile(profileOf('grey'))).toBeUndefined();
    expect(readProfile(Buffer.alloc(10))).toBeUndefined();
    fc.assert(
      fc.property(fc.nat(good.length - 1), fc.nat(255), (at, value) => {
        const other = Buffer.from(good);
        other[at] = value;
        readProfile(other);
        readProfile(other.subarray(0, at));
      }),
      { numRuns: 300 },
    );
  });

  it('is taken by the colour management of others', async () => {
    for (const name of RGB_SPACES) {
      const file = path.join(folder, `${name}.tif`);
      await sharp(pixels, { raw: { width: 20, height: 20, channels: 3 } })
        .tiff({ compression: 'none' })
        .toFile(file);
      await tagProfile(file, profileOf(name));
      const tagged = await readFile(file);
      expect((await sharp(tagged).metadata()).hasProfile).toBe(true);
      const theirs = await sharp(tagged).toColourspace('srgb').raw().toBuffer();
      const ours = Uint8Array.from(pixels);
      convertRgb(ours, 3, rgbSpace(name), rgbSpace('srgb'));
      let worst = 0;
      ours.forEach((v, i) => (worst = Math.max(worst, Math.abs(v - theirs[i]))));
      expect(worst).toBeLessThanOrEqual(2);
    }
  });
});

describe('converting', () => {
  it('there and back gives what was there, where it fits', () => {
    const samples = Uint16Array.from({ length: 900 }, () => Math.floor(random() * 65536));
    const changed = Uint16Array.from(samples);
    convertRgb(changed, 3, rgbSpace('srgb'), rgbSpace('wide'));
    expect(changed).not.toEqual(samples);
    convertRgb(changed, 3, rgbSpace('wide'), rgbSpace('srgb'));
    changed.forEach((v, i) => expect(Math.abs(v - samples[i])).toBeLessThanOrEqual(40));
  });

  it('leaves opacity and greys alone', () => {
    const samples = Uint8Array.from([0, 0, 0, 7, 128, 128, 128, 200, 255, 255, 255, 255]);
    const changed = Uint8Array.from(samples);
    convertRgb(changed, 4, rgbSpace('wide'), rgbSpace('display-p3'));
    changed.forEach((v, i) => expect(Math.abs(v - samples[i])).toBeLessThanOrEqual(1));
  });

  it('goes through matrices that undo one another', () => {
    const m = rgbSpace('wide').toXyz;
    product(m, inverse(m)).forEach((row, n) => row.forEach((v, k) => expect(v).toBeCloseTo(n === k ? 1 : 0, 10)));
  });
});
