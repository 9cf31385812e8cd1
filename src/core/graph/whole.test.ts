import { describe, expect, it } from 'vitest';
import { wholeRegion } from '../picture/picture';
import { picture, streamInfo, texturedPlane } from '../testing/pictures';
import { PictureCache } from './cache';
import { planOf } from '../testing/plans';
import { compile } from './graph';
import type { Node } from './node';
import { wholePicture } from './whole';

describe('wholePicture', () => {
  it('makes a large picture in tiles that join without a seam, and tells how far it is', async () => {
    const info = streamInfo({ width: 3100, height: 2950, frames: 1, fieldOrder: 'progressive', chromaShiftX: 1, chromaShiftY: 1 });
    const still = picture(info);
    still.planes[0] = texturedPlane(info.width, info.height);
    const plan = planOf(['focus', { quality: 'fast' }]);
    const run = (): Node =>
      compile(plan, { info, key: 'still', frame: () => Promise.resolve(still) }, { cache: new PictureCache(0) }).output;
    const told: number[] = [];
    const tiled = await wholePicture(run(), 0, (done) => told.push(done));
    const atOnce = await run().frame(0, wholeRegion(info));
    tiled.planes.forEach((plane, n) =>
      expect(Buffer.compare(Buffer.from(plane.data.buffer), Buffer.from(atOnce.planes[n].data.buffer))).toBe(0),
    );
    // Four columns, three rows.
    expect(told).toHaveLength(12);
    expect(told.at(-1)).toBe(1);
  });
});
