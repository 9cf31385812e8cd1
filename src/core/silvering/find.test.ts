import path from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { withCoarserChroma } from '../picture/chroma';
import { fromRgb } from '../picture/matrix';
import { newPlane, type Picture, wholeRegion } from '../picture/picture';
import { streamInfo } from '../testing/pictures';
import { findSilvering } from './find';
import { liftSilvering } from './lift';
import { readingOf, isSilvered } from './measure';

const plate = path.resolve(import.meta.dirname, '../../../demo/plates/portrait.png');
const WIDTH = 480;
/** Pixels that the veil reaches from the left edge, and how far it covers what is black. */
const REACH = 70,
  COVER = 0.55;
const SHEEN = [150, 160, 176];

/** A portrait of the demo's, as soft as prints are, silvered along its left edge or not; and how far each pixel is veiled. */
async function print(silvered: boolean): Promise<{ picture: Picture; cover: Float32Array }> {
  const { data, info } = await sharp(plate).resize(WIDTH).removeAlpha().blur(1).raw().toBuffer({ resolveWithObject: true });
  const { height } = info;
  const cover = new Float32Array(WIDTH * height);
  if (silvered)
    for (let i = 0; i < cover.length; i++) {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      const near = Math.min(1, Math.max(0, (REACH + 9 * Math.sin(y / 23) - x) / 40));
      const dark = 1.1 - (data[3 * i] + data[3 * i + 1] + data[3 * i + 2]) / 765;
      cover[i] = COVER * near * Math.min(1, dark);
      for (let c = 0; c < 3; c++) data[3 * i + c] += Math.round(cover[i] * (SHEEN[c] - data[3 * i + c]));
    }
  const stream = streamInfo({
    ...{ width: WIDTH, height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });
  return { picture: fromRgb(new Uint8Array(data), 3, stream), cover };
}

describe('silver come to the surface', () => {
  let silvered: Awaited<ReturnType<typeof print>>, whole: Picture;
  beforeAll(async () => {
    [silvered, { picture: whole }] = await Promise.all([print(true), print(false)]);
  });

  it('is found along the edge it comes from, and nowhere in a portrait without any', async () => {
    const reading = readingOf(await findSilvering(silvered.picture));
    expect(isSilvered(reading)).toBe(true);
    expect(reading.edges).toContain('left');
    expect(reading.share).toBeLessThan(30);
    expect(readingOf(await findSilvering(whole)).share).toBeLessThan(0.1);
  });

  it('is lifted, so that little of the veil is left', async () => {
    const { picture, cover } = silvered;
    const made = liftSilvering(picture, wholeRegion(picture.info), await findSilvering(picture), { sure: 0.4, strength: 1 });
    const off = (of: Picture): number => {
      const places = [...cover.keys()].filter((i) => cover[i] > 0.1);
      return Math.sqrt(places.reduce((sum, i) => sum + (of.planes[0].data[i] - whole.planes[0].data[i]) ** 2, 0) / places.length) / 257;
    };
    expect(off(picture)).toBeGreaterThan(12);
    expect(off(made)).toBeLessThan(0.5 * off(picture));
  });

  it('is found by coarse chroma too, and not told where there is no colour or the picture is too small to show it', async () => {
    const { picture } = silvered;
    expect(readingOf(await findSilvering(withCoarserChroma(picture, 1, 1))).edges).toContain('left');
    const grey: Picture = { ...picture, info: { ...picture.info, planes: 1 }, planes: picture.planes.slice(0, 1) };
    expect(readingOf(await findSilvering(grey)).share).toBe(0);
    const small = streamInfo({ width: 40, height: 60, frames: 1, planes: 1 });
    const tiny = { info: small, region: wholeRegion(small), planes: [newPlane(40, 60, 9000)] };
    expect(readingOf(await findSilvering(tiny)).share).toBe(0);
  });
});
