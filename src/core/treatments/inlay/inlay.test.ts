import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asColour } from '../../picture/asColour';
import type { LaidPicture } from '../../picture/laid';
import { toRgb } from '../../picture/matrix';
import { cutPicture, growRegion, wholeRegion, type Picture, type Region } from '../../picture/picture';
import { contextOf } from '../../testing/context';
import { picture, streamInfo } from '../../testing/pictures';
import { inlay } from './inlay';
import { InlaySettings } from './settings';

const info = streamInfo({
  ...{ width: 160, height: 120, frames: 1, chromaShiftX: 0, chromaShiftY: 0, depth: 16 },
  colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
});
const source = picture(info);
const NAME = 'b'.repeat(64);

const laidOf = (from: Picture): LaidPicture => ({
  ...{ width: from.region.width, height: from.region.height },
  data: toRgb(from, 16) as Uint16Array,
});
/** A part of the source, laid where it came from. */
const PART: Region = { x: 40, y: 30, width: 64, height: 48 };
const its = { picture: NAME, x: 72, y: 54, width: 64, turn: 0 };

async function made(given: Partial<InlaySettings>, laid: LaidPicture, region = wholeRegion(info), from = source): Promise<Picture> {
  const settings = { ...new InlaySettings(), ...its, ...given };
  const work = { ...contextOf(from.info, region), pictures: { [NAME]: laid } };
  const reach = inlay.reach?.(region, settings, from.info, work) ?? region;
  const x = Math.min(reach.x, region.x),
    y = Math.min(reach.y, region.y);
  const right = Math.max(reach.x + reach.width, region.x + region.width),
    bottom = Math.max(reach.y + reach.height, region.y + region.height);
  const part = growRegion({ x, y, width: right - x, height: bottom - y }, 0, 2, from.info);
  return inlay.apply([cutPicture(from, part)], settings, work);
}

const furthest = (a: Picture, b: Picture): number =>
  Math.max(...a.planes.flatMap((plane, p) => Array.from(plane.data, (v, i) => Math.abs(v - b.planes[p].data[i]))));

describe('an inlay', () => {
  it('of what was cut out there changes nothing, upright and on whole pixels', async () => {
    const result = await made({ light: 0, edge: 0 }, laidOf(cutPicture(source, PART)));
    expect(furthest(result, source)).toBeLessThanOrEqual(2);
  });

  it('leaves what lies outside it as it is, to the last bit', async () => {
    const dark: LaidPicture = { width: 32, height: 24, data: new Uint16Array(3 * 32 * 24) };
    for (const shape of ['whole', 'oval'] as const) {
      const { planes } = await made({ shape, light: 0 }, dark);
      let changed = 0;
      planes[0].data.forEach((v, i) => {
        const x = (i % 160) - PART.x,
          y = Math.floor(i / 160) - PART.y;
        const within =
          shape === 'whole'
            ? x >= 0 && y >= 0 && x < PART.width && y < PART.height
            : Math.hypot((2 * x + 1) / PART.width - 1, (2 * y + 1) / PART.height - 1) < 1;
        if (!within) expect(v).toBe(source.planes[0].data[i]);
        else if (v !== source.planes[0].data[i]) changed++;
      });
      expect(changed).toBeGreaterThan(1500);
      expect(planes[0].data[54 * 160 + 72]).toBe(0);
    }
  });

  it('takes the light that is there: a darker, flatter, tinted copy comes out as the picture is', async () => {
    const there = cutPicture(source, PART);
    const faded = laidOf(there);
    faded.data.forEach((v, i) => (faded.data[i] = 0.55 * v + [2000, 6000, 9000][i % 3]));
    const error = async (light: number): Promise<number> => {
      const { planes } = cutPicture(await made({ light, edge: 0 }, faded), PART);
      const off = planes.map((plane, p) => plane.data.reduce((sum, v, i) => sum + (v - there.planes[p].data[i]) ** 2, 0));
      return Math.sqrt(off.reduce((a, b) => a + b) / PART.width / PART.height);
    };
    expect(await error(100)).toBeLessThan(0.2 * (await error(0)));
  });

  it('brings no colours into a picture without any', async () => {
    const grey = asColour({ info: { ...info, planes: 1 }, region: source.region, planes: [source.planes[0]] }, info);
    const { planes } = await made({}, laidOf(cutPicture(source, PART)), undefined, grey);
    expect(Math.max(...planes.slice(1).map(({ data }) => Math.max(...data.map((v) => Math.abs(v - 32768)))))).toBeLessThanOrEqual(1);
    const mono: Picture = { info: { ...info, planes: 1 }, region: source.region, planes: [source.planes[0]] };
    expect((await made({}, laidOf(cutPicture(source, PART)), undefined, mono)).planes).toHaveLength(1);
  });

  it('is the same in every part as in the whole, with coarse chroma too', async () => {
    const coarse = picture(streamInfo({ width: 160, height: 120, frames: 1 }));
    const laid = laidOf(cutPicture(source, { x: 10, y: 8, width: 100, height: 90 }));
    const even = (most: number) => fc.integer({ min: 0, max: most / 2 }).map((v) => 2 * v);
    await fc.assert(
      fc.asyncProperty(
        ...[even(120), even(90), fc.integer({ min: -180, max: 180 }), fc.constantFrom(0, 1.5), fc.constantFrom(0, 60, 100)],
        async (x, y, turn, softer, light) => {
          const given = { turn, softer, light, width: 70, shape: turn % 2 ? ('oval' as const) : ('whole' as const) };
          const whole = await made(given, laid, undefined, coarse);
          const region = { x, y, width: 40, height: 30 };
          expect(await made(given, laid, region, coarse)).toEqual(cutPicture(whole, region));
        },
      ),
      { numRuns: 12 },
    );
  });

  it('is softened as told, and does nothing without a picture', async () => {
    const stripes: LaidPicture = {
      ...{ width: 128, height: 96 },
      data: Uint16Array.from({ length: 3 * 128 * 96 }, (_, i) => (Math.floor(i / 3) % 8 < 4 ? 60000 : 5000)),
    };
    const range = async (softer: number): Promise<number> => {
      const row = (await made({ softer, light: 0 }, stripes)).planes[0].data.slice(54 * 160 + 60, 54 * 160 + 84);
      return Math.max(...row) - Math.min(...row);
    };
    expect(await range(2)).toBeLessThan(0.1 * (await range(0)));
    expect(furthest(await made({ picture: '' }, stripes), source)).toBe(0);
  });
});
