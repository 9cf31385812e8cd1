import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { StrokeMark } from '../../../shared/marks';
import type { LaidPicture } from '../../picture/laid';
import { cutPicture, growRegion, newPlane, wholeRegion, type Picture, type Region } from '../../picture/picture';
import { SCALE, type Subject } from '../../subject/subject';
import { contextOf } from '../../testing/context';
import { picture, streamInfo } from '../../testing/pictures';
import { background, BackgroundSettings } from './background';

const info = streamInfo({ width: 160, height: 120, frames: 1 });
const source = picture(info);

/** The left half is subject. */
const left: Subject = {
  width: 160,
  height: 120,
  slopes: new Int16Array(160 * 120),
  levels: Int16Array.from({ length: 160 * 120 }, (_, i) => (i % 160 < 80 ? SCALE : 0)),
  share: 0.5,
};

/** A picture to lay in, red on its left half, blue on its right. */
const PAINTED = 'a'.repeat(64);
const painted: LaidPicture = {
  width: 40,
  height: 20,
  data: Uint16Array.from({ length: 3 * 40 * 20 }, (_, i) => (i % 3 === (Math.floor(i / 3) % 40 < 20 ? 0 : 2) ? 65535 : 0)),
};

async function made(
  given: Partial<BackgroundSettings>,
  region: Region = wholeRegion(info),
  marks: StrokeMark[] = [],
  from = source,
): Promise<Picture> {
  const settings = { ...new BackgroundSettings(), ...given };
  const part = growRegion(region, background.needs(settings, info).border, 2, info);
  const told = { analyses: { subject: left }, pictures: { [PAINTED]: painted }, marks };
  return background.apply([cutPicture(from, part)], settings, contextOf(info, region, told));
}

const stroke = (use: StrokeMark['use'], x: number, y: number): StrokeMark => ({
  id: use,
  use,
  on: true,
  points: [{ x, y }],
  size: 20,
  softness: 0,
});
const luma = ({ planes: [plane] }: Picture, x: number, y: number): number => plane.data[y * 160 + x];

describe('a background', () => {
  it('is changed, and the subject is what it was', async () => {
    for (const way of ['soften', 'darken', 'colour', 'drop'] as const) {
      const result = await made({ way });
      for (let y = 0; y < 120; y += 7) for (let x = 0; x < 79; x += 5) expect(luma(result, x, y)).toBe(luma(source, x, y));
      expect(luma(result, 130, 61)).not.toBe(luma(source, 130, 61));
    }
  });

  it('that is softened takes nothing of the subject in', async () => {
    const other = cutPicture(source, source.region);
    for (let y = 0; y < 120; y++) for (let x = 0; x < 78; x++) other.planes[0].data[y * 160 + x] = 60_000;
    const [a, b] = [await made({ softness: 2 }), await made({ softness: 2 }, wholeRegion(info), [], other)];
    // What is left of it is the little that keeps the division from nothing.
    for (let y = 0; y < 120; y += 3) for (let x = 90; x < 160; x += 7) expect(Math.abs(luma(a, x, y) - luma(b, x, y))).toBeLessThan(300);
  });

  it('that is darkened keeps its share of light, one colour is that colour', async () => {
    const dark = await made({ way: 'darken', darker: 50 });
    expect(luma(dark, 120, 50)).toBeCloseTo((luma(source, 120, 50) + 4096) / 2, -1);
    const white = await made({ way: 'colour', colour: '#ffffffffffff' });
    expect(luma(white, 120, 50)).toBe(60160);
  });

  it('that is another picture shows it behind the subject, its middle on the middle', async () => {
    const settings = { way: 'picture' as const, picture: PAINTED };
    expect(background.pictures?.({ ...new BackgroundSettings(), ...settings })).toEqual([PAINTED]);
    const result = await made(settings);
    expect(luma(result, 20, 60)).toBe(luma(source, 20, 60));
    // Blue of BT.601, in the source's range.
    expect(luma(result, 130, 60)).toBeCloseTo(4096 + 0.114 * 219 * 256, -2);
    const none = await made({ way: 'picture' });
    expect(luma(none, 130, 60)).toBeGreaterThan(50_000);
  });

  it('is corrected by hand', async () => {
    const result = await made({ way: 'colour', colour: '#ffffffffffff' }, wholeRegion(info), [
      stroke('subject', 130, 60),
      stroke('ground', 30, 60),
    ]);
    expect(luma(result, 130, 60)).toBe(luma(source, 130, 60));
    expect(luma(result, 30, 60)).toBe(60160);
    expect(luma(result, 150, 90)).toBe(60160);
  });

  it('of any part is that of the whole', async () => {
    for (const way of ['soften', 'darken', 'picture'] as const) {
      const picture = way === 'picture' ? PAINTED : '';
      const whole = await made({ way, picture });
      await fc.assert(
        fc.asyncProperty(fc.nat(50), fc.nat(40), async (x, y) => {
          const region = { x: 2 * x, y: 2 * y, width: 40, height: 30 };
          const part = await made({ way, picture }, region);
          const expected = cutPicture(whole, region);
          part.planes.forEach((plane, p) => expect(plane.data).toEqual(expected.planes[p].data));
        }),
        { numRuns: 10 },
      );
    }
  });

  it('works on monochrome pictures', async () => {
    const grey = { ...info, planes: 1 as const };
    const settings = { ...new BackgroundSettings(), way: 'colour' as const };
    const one: Picture = { info: grey, region: wholeRegion(grey), planes: [newPlane(160, 120, 20_000)] };
    const result = await background.apply([one], settings, contextOf(grey, wholeRegion(grey), { analyses: { subject: left } }));
    expect(result.planes).toHaveLength(1);
    expect(luma(result, 20, 20)).toBe(20_000);
    expect(luma(result, 120, 20)).toBeGreaterThan(50_000);
  });
});
