import { describe, expect, it } from 'vitest';
import { picture, streamInfo } from '../testing/pictures';
import { FINDING_CHANNELS, findingPlanes } from './findingPlanes';

describe('what the network that finds damage sees', () => {
  it('shows a bright speck above its openings and a dark one below its closings', () => {
    const info = streamInfo({ width: 64, height: 64, frames: 1, planes: 1 });
    const flat = picture(info);
    flat.planes[0].data.fill(30000);
    flat.planes[0].data[20 * 64 + 20] = 50000;
    flat.planes[0].data[40 * 64 + 40] = 10000;
    const planes = findingPlanes(flat, { x: 0, y: 0, width: 64, height: 64 });
    expect(planes).toHaveLength(FINDING_CHANNELS * 32 * 32);
    const at = (plane: number, x: number, y: number): number => planes[plane * 1024 + y * 32 + x];
    const step = Math.sqrt((16 * 20000) / 65280);
    expect([at(4, 10, 10), at(8, 10, 10)].map((v) => v.toFixed(3))).toEqual([step.toFixed(3), '0.000']);
    expect([at(4, 20, 20), at(8, 20, 20)].map((v) => v.toFixed(3))).toEqual(['0.000', step.toFixed(3)]);
  });

  it('is the same for a part with what lies round it as for the whole', () => {
    const info = streamInfo({ width: 160, height: 128, frames: 1 });
    const whole = picture(info);
    const all = findingPlanes(whole, { x: 0, y: 0, width: 160, height: 128 }),
      part = findingPlanes(whole, { x: 32, y: 32, width: 96, height: 64 });
    for (let plane = 0; plane < 24; plane++) {
      // 22 pixels and 16 more are looked at to either side.
      expect(part[plane * 48 * 32 + 16 * 48 + 24]).toBeCloseTo(all[plane * 80 * 64 + 32 * 80 + 40], 5);
    }
  });
});
