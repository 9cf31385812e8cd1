import { describe, expect, it } from 'vitest';
import { cutPicture, wholeRegion } from '../picture/picture';
import { picture, streamInfo, texturedPlane } from '../testing/pictures';
import { PictureCache } from './cache';
import { planOf } from '../testing/plans';
import { compile } from './graph';
import { Cancelled, type Node } from './node';
import { tiledPicture } from './tiled';

const bytesOf = (data: Uint16Array): Buffer => Buffer.from(data.buffer, data.byteOffset, data.byteLength);

describe('tiledPicture', () => {
  it('makes a large picture in tiles that join without a seam, and tells how far it is', async () => {
    const info = streamInfo({ width: 3100, height: 2950, frames: 1, fieldOrder: 'progressive', chromaShiftX: 1, chromaShiftY: 1 });
    const still = picture(info);
    still.planes[0] = texturedPlane(info.width, info.height);
    const plan = planOf(['focus', { quality: 'fast' }]);
    const run = (): Node =>
      compile(plan, { info, key: 'still', frame: () => Promise.resolve(still) }, { cache: new PictureCache(0) }).output;
    const told: number[] = [];
    const tiled = await tiledPicture(run(), 0, { progress: (done) => told.push(done) });
    const atOnce = await run().frame(0, wholeRegion(info));
    tiled.planes.forEach((plane, n) => expect(Buffer.compare(bytesOf(plane.data), bytesOf(atOnce.planes[n].data))).toBe(0));
    // Four columns, three rows.
    expect(told).toHaveLength(12);
    expect(told.at(-1)).toBe(1);
    const region = { x: 302, y: 1000, width: 2798, height: 1950 };
    const part = await tiledPicture(run(), 0, { region, untiled: 1e6 });
    expect(part.region).toEqual(region);
    const cut = cutPicture(atOnce, region);
    part.planes.forEach((plane, n) => expect(Buffer.compare(bytesOf(plane.data), bytesOf(cut.planes[n].data))).toBe(0));
  });

  it('stops between two tiles when it is no longer wanted', async () => {
    const info = streamInfo({ width: 2100, height: 1024, frames: 1, fieldOrder: 'progressive' });
    const still = picture(info);
    let asked = 0;
    const source = { info, key: 'still', frame: () => (asked++, Promise.resolve(still)) };
    const node = compile(planOf(['regrain', { amount: 2 }]), source, { cache: new PictureCache(0) }).output;
    let left = 2;
    const goOn = (): void => {
      if (left-- === 0) throw new Cancelled();
    };
    await expect(tiledPicture(node, 0, { untiled: 1e6, goOn })).rejects.toThrow(Cancelled);
    expect(asked).toBe(2);
  });
});
