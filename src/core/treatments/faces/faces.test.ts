import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SAME_PLACE, scaling, type Projective } from '../../../shared/maps/place';
import type { Face, Faces } from '../../faces/find';
import { FRAME } from '../../faces/frame';
import { cutPicture, growRegion, wholeRegion, type Picture, type Region } from '../../picture/picture';
import { contextOf } from '../../testing/context';
import { picture, streamInfo } from '../../testing/pictures';
import { faces, FacesSettings } from './faces';

const info = streamInfo({ width: 240, height: 180, frames: 1 });
const source = picture(info);

/** A mesh whose landmarks lie as in a frame of that side at that place, and whose other points go round it. */
function mesh(left: number, top: number, side: number): number[] {
  const at = Array.from({ length: 468 }, (_, n) => [0.5 + 0.34 * Math.cos(n), 0.53 + 0.42 * Math.sin(n)]);
  [[33, 133, 159, 145], [362, 263, 386, 374], [1], [61], [291]].forEach((points, n) => {
    for (const p of points) at[p] = [FRAME[2 * n], FRAME[2 * n + 1]];
  });
  return at.flatMap(([u, v]) => [(left + side * u) / info.width, (top + side * v) / info.height]);
}

const face = (left: number, top: number, side: number): Face => ({
  ...{ x: (left + 0.16 * side) / info.width, y: (top + 0.11 * side) / info.height },
  ...{ width: (0.68 * side) / info.width, height: (0.84 * side) / info.height },
  ...{ score: 0.9, pixels: Math.round(0.68 * side), yaw: 0, roll: 0, mesh: mesh(left, top, side) },
});
const found: Faces = { faces: [face(20, 30, 64), face(130, 60, 96)], width: info.width, height: info.height };

async function made(given: Partial<FacesSettings>, region: Region = wholeRegion(info), place: Projective = SAME_PLACE): Promise<Picture> {
  const settings = { ...new FacesSettings(), ...given };
  const work = { marks: [], place, analyses: { faces: found } };
  const reach = faces.reach?.(region, settings, info, work) ?? region;
  const part = growRegion(reach, 0, 2, info);
  return faces.apply([cutPicture(source, part)], settings, contextOf(info, region, work));
}

const changed = (result: Picture, x: number, y: number): boolean =>
  result.planes[0].data[y * info.width + x] !== source.planes[0].data[y * info.width + x];

describe('faces', () => {
  it('are changed, and nothing else is', async () => {
    const result = await made({});
    expect(changed(result, 52, 64)).toBe(true);
    expect(changed(result, 178, 110)).toBe(true);
    for (const [x, y] of [
      [2, 2],
      [110, 60],
      [238, 170],
      [24, 34],
    ])
      expect(changed(result, x, y)).toBe(false);
  });

  it('get what is said of each', async () => {
    const one = await made({ each: '0.21667,0.34444,0' });
    expect(changed(one, 52, 64)).toBe(false);
    expect(changed(one, 178, 110)).toBe(true);
    const none = await made({ amount: 0 });
    none.planes.forEach((plane, p) => expect(plane.data).toEqual(source.planes[p].data));
  });

  it('get what is said of their areas', async () => {
    const nothing = await made({ eyes: 0, mouth: 0, skin: 0 });
    nothing.planes.forEach((plane, p) => expect(plane.data).toEqual(source.planes[p].data));
    // A face without a mesh is all skin.
    const added = { each: '0.45,0.85,100,0.2' };
    expect(changed(await made({ ...added, eyes: 0, mouth: 0 }), 108, 150)).toBe(true);
    expect(changed(await made({ ...added, skin: 0 }), 108, 150)).toBe(false);
  });

  it('that are placed by hand lie as they are turned, and stand for what was found there', async () => {
    // A narrow face at the left below, upright and on its side: only the latter reaches so far to the left.
    const upright = await made({ each: '0.45,0.8,100,0.2' }),
      turned = await made({ each: '0.45,0.8,100,0.2,90' });
    expect([changed(upright, 108, 172), changed(turned, 108, 172)]).toEqual([true, false]);
    expect([changed(upright, 79, 144), changed(turned, 79, 144)]).toEqual([false, true]);
    // Where the first was found, one is placed that gets nothing.
    const none = await made({ each: '0.21667,0.34444,0,0.18' });
    expect(changed(none, 52, 64)).toBe(false);
    expect(changed(none, 178, 110)).toBe(true);
  });

  it('that were added by hand are worked too', async () => {
    const result = await made({ each: '0.45,0.85,100,0.2' });
    expect(changed(result, 108, 150)).toBe(true);
  });

  it('of any part are those of the whole', async () => {
    const whole = await made({});
    await fc.assert(
      fc.asyncProperty(fc.nat(90), fc.nat(60), async (x, y) => {
        const region = { x: 2 * x, y: 2 * y, width: 60, height: 60 };
        const part = await made({}, region);
        const expected = cutPicture(whole, region);
        part.planes.forEach((plane, p) => expect(plane.data).toEqual(expected.planes[p].data));
      }),
      { numRuns: 8 },
    );
  });

  it('lie where the steps before have put them', async () => {
    // The input shows the source's right half, twice as large.
    const place = scaling(0.5, 0.5, 120, 0);
    const result = await made({}, wholeRegion(info), place);
    expect(changed(result, 2 * (178 - 120), 2 * 85)).toBe(true);
    expect(changed(result, 20, 20)).toBe(false);
  });

  it('are counted, and told where they are too small for more than evidence', async () => {
    const region = wholeRegion(info);
    const small = { faces: { ...found, faces: [face(20, 30, 50)] } };
    const told = await faces.found?.([source], new FacesSettings(), contextOf(info, region, { analyses: small }));
    expect(told?.counts.slice(0, 2)).toEqual([
      { name: 'Faces', count: 1 },
      { name: 'Too small for more than evidence', count: 1 },
    ]);
  });
});
