import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutPicture, growRegion, newPlane, wholeRegion, type Picture, type Region } from '../../picture/picture';
import { contextOf } from '../../testing/context';
import { picture, streamInfo } from '../../testing/pictures';
import { WARP_BORDER } from '../../warp/warp';
import { lens } from './lens';

const info = streamInfo({ width: 240, height: 180, frames: 1, planes: 1 });

function made(source: Picture, bow: number, region: Region = wholeRegion(source.info)): Picture {
  const from = growRegion(lens.regionAt?.(region, { bow }, source.info) ?? region, WARP_BORDER, 2, source.info);
  return lens.apply([cutPicture(source, from)], { bow }, contextOf(source.info, region)) as Picture;
}

/** A level line as a lens bows it, `k` of the square of the distance from the middle, and how far it is from a straight one after `bow`. */
function straightness(k: number, bow: number): number {
  const plane = newPlane(info.width, info.height, 50_000);
  const half = Math.hypot(info.width, info.height) / 2;
  // Drawn where the straight line at a sixth of the height is seen through the lens.
  const v = (info.height / 6 - info.height / 2) / half;
  for (let step = -1.2; step <= 1.2; step += 0.0005) {
    const gain = 1 + k * (step * step + v * v);
    const x = Math.round(info.width / 2 + step * gain * half - 0.5),
      y = info.height / 2 + v * gain * half - 0.5;
    if (x < 0 || x >= info.width || y < 1 || y > info.height - 2) continue;
    const row = Math.floor(y);
    plane.data[row * info.width + x] = 50_000 - 40_000 * (1 - (y - row));
    plane.data[(row + 1) * info.width + x] = 50_000 - 40_000 * (y - row);
  }
  const result = made({ info, region: wholeRegion(info), planes: [plane] }, bow).planes[0];
  const rows: number[] = [];
  for (let x = 15; x < info.width - 15; x += 5) {
    let sum = 0,
      weight = 0;
    for (let y = 0; y < info.height / 2; y++) {
      const dark = Math.max(0, 45_000 - result.data[y * info.width + x]);
      sum += dark * y;
      weight += dark;
    }
    rows.push(sum / weight);
  }
  return Math.max(...rows) - Math.min(...rows);
}

describe('a lens', () => {
  it('that bowed lines out is undone', () => {
    expect(straightness(-0.12, 0)).toBeGreaterThan(2);
    expect(straightness(-0.12, 12)).toBeLessThan(0.7);
  });

  it('that bowed lines in is undone', () => {
    expect(straightness(0.1, 0)).toBeGreaterThan(2);
    expect(straightness(0.1, -10)).toBeLessThan(0.7);
  });

  it('that bowed nothing leaves everything', () => {
    const source = picture(streamInfo({ width: 96, height: 64, frames: 1 }));
    made(source, 0).planes.forEach((plane, p) => expect(plane.data).toEqual(source.planes[p].data));
  });

  it('of any part is that of the whole', () => {
    const source = picture(streamInfo({ width: 160, height: 128, frames: 1 }));
    fc.assert(
      fc.property(fc.nat(50), fc.nat(40), fc.integer({ min: -30, max: 30 }), (x, y, bow) => {
        const region = { x: 2 * x, y: 2 * y, width: 40, height: 30 };
        const expected = cutPicture(made(source, bow), region);
        made(source, bow, region).planes.forEach((plane, p) => expect(plane.data).toEqual(expected.planes[p].data));
      }),
      { numRuns: 40 },
    );
  });
});
