import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutPicture, growRegion, wholeRegion, type Picture, type Region } from '../../picture/picture';
import { contextOf } from '../../testing/context';
import { picture, streamInfo } from '../../testing/pictures';
import { redact, RedactSettings } from './redact';

const source = picture(streamInfo({ width: 160, height: 128, frames: 1 }));

async function made(given: Partial<RedactSettings>, region: Region = wholeRegion(source.info)): Promise<Picture> {
  const settings = { ...new RedactSettings(), ...given };
  const part = growRegion(region, redact.needs(settings, source.info).border, 2, source.info);
  return redact.apply([cutPicture(source, part)], settings, contextOf(source.info, region));
}

describe('redacting', () => {
  it('leaves nothing within a block but its mean', async () => {
    const { planes } = await made({ way: 'blocks', size: 32 });
    for (let y = 0; y < 128; y++)
      for (let x = 0; x < 160; x++) expect(planes[0].data[y * 160 + x]).toBe(planes[0].data[(y & ~31) * 160 + (x & ~31)]);
    let sum = 0;
    for (let y = 0; y < 32; y++) for (let x = 0; x < 32; x++) sum += source.planes[0].data[y * 160 + x];
    expect(planes[0].data[0]).toBe(Math.round(sum / 1024));
  });

  it('blurs the blocks, not the picture', () => {
    // Two pictures with the same blocks cannot be told apart afterwards.
    const other = cutPicture(source, source.region);
    const [a, b] = [source.planes[0].data[5 * 160 + 5], source.planes[0].data[9 * 160 + 20]];
    other.planes[0].data[5 * 160 + 5] = b;
    other.planes[0].data[9 * 160 + 20] = a;
    const settings = { ...new RedactSettings(), way: 'blur' as const, size: 32 };
    const region = wholeRegion(source.info);
    const [one, two] = [source, other].map((p) => redact.apply([p], settings, contextOf(source.info, region)) as Picture);
    expect(one.planes[0].data).toEqual(two.planes[0].data);
  });

  it('fills with black, or with a colour', async () => {
    expect(new Set((await made({ way: 'fill' })).planes[0].data)).toEqual(new Set([4096]));
    const white = await made({ way: 'fill', colour: '#ffffffffffff' });
    expect([white.planes[0].data[0], white.planes[1].data[0]]).toEqual([60160, 32768]);
  });

  it('hides the faces that were found, with what is round them, and nothing else', async () => {
    const settings = { ...new RedactSettings(), what: 'faces' as const, way: 'fill' as const };
    expect(redact.reads?.(settings, source.info)).toEqual(['faces']);
    expect(redact.reads?.(new RedactSettings(), source.info)).toEqual([]);
    const region = wholeRegion(source.info);
    const faces = { faces: [{ x: 0.25, y: 0.25, width: 0.2, height: 0.25, score: 0.9 }] };
    const { planes } = await redact.apply([source], settings, contextOf(source.info, region, { analyses: { faces } }));
    const [luma] = planes;
    // The face from 40, 32 to 72, 64, and half as much more.
    for (const [x, y] of [
      [34, 26],
      [56, 48],
      [78, 70],
    ])
      expect(luma.data[y * 160 + x]).toBe(4096);
    for (const [x, y] of [
      [28, 48],
      [90, 48],
      [56, 20],
      [56, 78],
    ])
      expect(luma.data[y * 160 + x]).toBe(source.planes[0].data[y * 160 + x]);
    expect(() => redact.output({ ...source.info, frames: 25 }, settings)).toThrow('faces are found in stills');
  });

  it('of any part is that of the whole', async () => {
    for (const way of ['blocks', 'blur'] as const) {
      const whole = await made({ way, size: 12 });
      await fc.assert(
        fc.asyncProperty(fc.nat(50), fc.nat(40), async (x, y) => {
          const region = { x: 2 * x, y: 2 * y, width: 40, height: 30 };
          const part = await made({ way, size: 12 }, region);
          const expected = cutPicture(whole, region);
          part.planes.forEach((plane, p) => expect(plane.data).toEqual(expected.planes[p].data));
        }),
        { numRuns: 20 },
      );
    }
  });
});
