import path from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { fromRgb } from '../picture/matrix';
import { wholeRegion, type Picture } from '../picture/picture';
import { streamInfo } from '../testing/pictures';
import { damageOf, dirtRule, DirtSettings } from '../treatments/dirt/dirt';
import { findDirt } from './find';
import { DIRT_KINDS } from './kinds';
import { dirtMask } from './mask';
import { mendDamage } from './mend';

const WIDTH = 640;
const UNMOVED = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;
/** The outline of a stain, across lines of the raster. */
const STAIN = 'M200 240C240 190 300 205 330 250C352 285 330 300 318 335C300 372 240 360 215 330C190 305 178 270 200 240Z';
/** A modelled head whose hair is smooth: on finer hair than this, stains are found less far than they reach. */
const plate = path.resolve(import.meta.dirname, '../testing/portrait.png');

const svg = (height: number, path: string): Buffer => Buffer.from(`<svg width="${WIDTH}" height="${height}">${path}</svg>`);

/** A portrait, as soft as prints are, with a stain of tea on it or without, and where it is; so many pixels further right in its frame. */
async function print(stained: boolean, left = 0): Promise<{ picture: Picture; stain: Uint8Array }> {
  const { data, info } = await sharp(plate).resize(WIDTH).removeAlpha().blur(1.6).raw().toBuffer({ resolveWithObject: true });
  const { height } = info;
  const soft = sharp(data, { raw: { width: WIDTH, height, channels: 3 } });
  const tea = svg(height, `<path d="${STAIN}" fill="#a8713c" fill-opacity="0.5"/>`);
  const scan = await (stained ? soft.composite([{ input: tea, blend: 'multiply' }]) : soft).removeAlpha().png().toBuffer();
  const rgb = await sharp(scan).extend({ left, extendWith: 'mirror' }).raw().toBuffer();
  const stain = await sharp(svg(height, `<rect width="${WIDTH}" height="${height}"/><path d="${STAIN}" fill="#fff"/>`))
    .extractChannel(0)
    .extend({ left, background: '#000' })
    .raw()
    .toBuffer();
  const stream = streamInfo({
    ...{ width: WIDTH + left, height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });
  return { picture: fromRgb(new Uint8Array(rgb), 3, stream), stain: stain.map((v) => Number(v > 127)) };
}

/** What is taken for a stain as Dirt comes. */
async function stainsIn(picture: Picture): Promise<Uint8Array> {
  const none = Object.fromEntries(DIRT_KINDS.map((kind) => [kind, 0]));
  const { stains } = new DirtSettings();
  return dirtMask(await findDirt(picture, wholeRegion(picture.info)), dirtRule({ ...new DirtSettings(), ...none, stains, margin: 0 }));
}

const sum = (mask: Uint8Array): number => mask.reduce((total, v) => total + v, 0);

describe('a stain', () => {
  // Cells of the raster in which it is looked for meet at 512.
  it.each([0, 262])('is found as far as it reaches, and nothing else for one, %i px further right', async (left) => {
    const { picture, stain } = await print(true, left);
    const found = await stainsIn(picture);
    const both = sum(found.map((v, i) => v & stain[i]));
    expect(both / sum(stain)).toBeGreaterThan(0.8);
    expect(both / sum(found)).toBeGreaterThan(0.8);
  });

  it('is not looked for where nobody wants it, and all else is found as before', async () => {
    const { picture } = await print(true, 0);
    const [both, without] = [await findDirt(picture, picture.region), await findDirt(picture, picture.region, { stains: false })];
    expect(sum(without.stains)).toBe(0);
    expect(sum(both.stains)).toBeGreaterThan(0);
    expect(sum(both.odds)).toBeGreaterThan(0);
    expect(without.odds).toEqual(both.odds);
    expect(without.kind).toEqual(both.kind);
  });

  it('is lifted by Dirt as it comes, and the portrait shows through unchanged', async () => {
    const [{ picture, stain }, { picture: whole }] = await Promise.all([print(true), print(false)]);
    const region = wholeRegion(picture.info);
    const { damage } = await damageOf(picture, region, new DirtSettings(), { marks: [], place: UNMOVED });
    const made = await mendDamage(picture, damage, region, { quality: 'fast', seeThrough: true });
    const off = (of: Picture): number =>
      Math.sqrt(stain.reduce((total, v, i) => total + (v ? (of.planes[0].data[i] - whole.planes[0].data[i]) ** 2 : 0), 0) / sum(stain)) /
      256;
    expect(off(picture)).toBeGreaterThan(20);
    expect(off(made)).toBeLessThan(0.2 * off(picture));
    // Cells that are mended one by one meet at 256.
    const lighter = (column: number): number => {
      const places = [...stain.keys()].filter((i) => stain[i] && Math.abs((i % WIDTH) - column) <= 3);
      return places.reduce((total, i) => total + made.planes[0].data[i] - whole.planes[0].data[i], 0) / places.length / 256;
    };
    expect(Math.abs(lighter(256 - 12) - lighter(256 + 12))).toBeLessThan(2);
  });

  it('is found in no portrait without any', async () => {
    expect(sum(await stainsIn((await print(false)).picture))).toBe(0);
  });
});

describe('spectacles', () => {
  const RIMS =
    '<ellipse cx="262" cy="290" rx="34" ry="29"/><ellipse cx="352" cy="290" rx="34" ry="29"/><path d="M296 286q11 -8 22 0M228 284l-30 -8M386 284l30 -8"/>';

  it('stay for the most part, though their rims are as thin as hairs', async () => {
    const { data, info } = await sharp(plate).resize(WIDTH).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const { height } = info;
    const worn = svg(height, `<g fill="none" stroke="#241c18" stroke-width="3">${RIMS}</g>`);
    const rgb = await sharp(data, { raw: { width: WIDTH, height, channels: 3 } })
      .composite([{ input: worn }])
      .removeAlpha()
      .blur(1.4)
      .raw()
      .toBuffer();
    const rims = await sharp(worn).ensureAlpha().extractChannel(3).raw().toBuffer();
    const stream = streamInfo({
      ...{ width: WIDTH, height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
      colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
    });
    const picture = fromRgb(new Uint8Array(rgb), 3, stream);
    const mask = dirtMask(await findDirt(picture, wholeRegion(stream)), { ...dirtRule(new DirtSettings()), margin: 0 });
    const of = rims.map((v) => Number(v > 127));
    expect(sum(of)).toBeGreaterThan(1000);
    expect(sum(mask.map((v, i) => v & of[i])) / sum(of)).toBeLessThan(0.45);
  });
});
