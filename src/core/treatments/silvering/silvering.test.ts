import { describe, expect, it } from 'vitest';
import { cutPicture, growRegion, newPlane, type Picture, type Region, wholeRegion } from '../../picture/picture';
import type { Silvering } from '../../silvering/find';
import { contextOf } from '../../testing/context';
import { CHROMA_SHIFTS, picture, streamInfo } from '../../testing/pictures';
import { reportOf } from '../../testing/reports';
import { silvering, SilveringSettings } from './silvering';

const info = streamInfo({ width: 160, height: 120, frames: 1 });
const filled = (value: number): Uint8Array => new Uint8Array(16 * 12).fill(value);

/** A veil over the left half. */
const left: Silvering = {
  ...{ width: 16, height: 12, strength: filled(120), colour: [filled(240), filled(135), filled(122)] },
  odds: Uint8Array.from({ length: 16 * 12 }, (_, i) => (i % 16 < 8 ? 255 : 0)),
};

async function made(source: Picture, given: Partial<SilveringSettings>, region: Region = wholeRegion(source.info)): Promise<Picture> {
  const settings = { ...new SilveringSettings(), ...given };
  const part = growRegion(region, silvering.needs(settings, source.info).border, 4, source.info);
  return silvering.apply([cutPicture(source, part)], settings, contextOf(source.info, region, { analyses: { silvering: left } }));
}

describe('Silvering', () => {
  it('is offered where a print seems silvered, and not spoken of elsewhere', () => {
    const proposed = (share: number, edges: ('left' | 'upper')[]): boolean | undefined =>
      silvering.propose(reportOf({ scan: 'still', silvering: { share, edges } }), info)?.on;
    expect(proposed(4, ['left', 'upper'])).toBe(false);
    expect(proposed(0.01, ['left'])).toBeUndefined();
    expect(silvering.propose(reportOf({ scan: 'still' }), info)).toBeUndefined();
  });

  it('shows what it lifts, and nothing at no strength', async () => {
    const dark: Picture = {
      info,
      region: wholeRegion(info),
      planes: picture(info).planes.map((p, n) => newPlane(p.width, p.height, n ? 32768 : 20000)),
    };
    const asked = wholeRegion(info);
    const found = await silvering.found?.([dark], new SilveringSettings(), contextOf(info, asked, { analyses: { silvering: left } }));
    expect(found?.share).toBeGreaterThan(0.45);
    expect(found?.share).toBeLessThan(0.55);
    expect((await made(dark, { strength: 0 })).planes).toEqual(dark.planes);
  });

  it.each(CHROMA_SHIFTS)(
    'darkens what is veiled, and a part as the whole, with chroma of 2^%i and 2^%i pixels',
    async (chromaShiftX, chromaShiftY) => {
      const own = { ...info, chromaShiftX, chromaShiftY };
      const source = picture(own);
      const whole = await made(source, {});
      for (let y = 0; y < 120; y += 7) {
        for (let x = 4; x < 70; x += 5) expect(whole.planes[0].data[y * 160 + x]).toBeLessThan(source.planes[0].data[y * 160 + x]);
        for (let x = 90; x < 160; x += 5) expect(whole.planes[0].data[y * 160 + x]).toBe(source.planes[0].data[y * 160 + x]);
      }
      const region = { x: 24, y: 20, width: 72, height: 48 };
      expect((await made(source, {}, region)).planes).toEqual(cutPicture(whole, region).planes);
    },
  );

  it('works on pictures of one plane', async () => {
    const source = picture({ ...info, planes: 1 });
    const whole = await made(source, {});
    expect(whole.planes).toHaveLength(1);
    expect(whole.planes[0].data[60 * 160 + 20]).toBeLessThan(source.planes[0].data[60 * 160 + 20]);
  });
});
