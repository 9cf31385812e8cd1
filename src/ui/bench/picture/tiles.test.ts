import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { streamInfo } from '../../../core/testing/pictures';
import { MAX_UNTILED_SOURCE, firstLook, tilesOf } from './tiles';
import type { Place } from '../../../shared/maps/place';

const scan = streamInfo({ width: 11_600, height: 8_700, frames: 1, chromaShiftX: 0, chromaShiftY: 0 });
const whole: Place = { x: 0, y: 0, width: 1, height: 1 };

describe('tilesOf', () => {
  it('asks for a small picture, or a small part of a large one, at once', () => {
    const sd = streamInfo({ width: 1440, height: 1080 });
    expect(tilesOf(whole, { width: 720, height: 540 }, sd)).toEqual([{ region: whole, fit: { width: 720, height: 540 } }]);
    const part = { x: 0.4, y: 0.4, width: 760 / scan.width, height: 560 / scan.height };
    expect(tilesOf(part, { width: 760, height: 560 }, scan)).toHaveLength(1);
    expect(tilesOf(whole, { width: 760, height: 560 }, { ...scan, width: 4000, height: 3000 }, 1, MAX_UNTILED_SOURCE)).toHaveLength(1);
    expect(tilesOf(whole, { width: 760, height: 560 }, { ...scan, width: 4000, height: 3000 }).length).toBeGreaterThan(1);
  });

  it('covers whatever is seen of a large scan, the middle first', () => {
    const share = fc.double({ min: 0, max: 0.75, noNaN: true });
    fc.assert(
      fc.property(share, share, (x, y) => {
        const visible = { x, y, width: 0.25, height: 0.25 };
        const tiles = tilesOf(visible, { width: 760, height: 570 }, scan);
        for (const [u, v] of [
          [x, y],
          [x + 0.25, y],
          [x, y + 0.25],
          [x + 0.125, y + 0.125],
        ]) {
          const inside = tiles.some(
            ({ region: r }) => u >= r.x - 1e-9 && u <= r.x + r.width + 1e-9 && v >= r.y - 1e-9 && v <= r.y + r.height + 1e-9,
          );
          expect(inside).toBe(true);
        }
        const far = ({ region: r }: (typeof tiles)[number]): number =>
          Math.hypot((r.x + r.width / 2 - x - 0.125) * scan.width, (r.y + r.height / 2 - y - 0.125) * scan.height);
        expect(tiles.map(far)).toEqual([...tiles.map(far)].sort((a, b) => a - b));
      }),
    );
  });

  it('keeps its raster when the view moves a little', () => {
    const keys = (x: number): string[] =>
      tilesOf({ x, y: 0.2, width: 0.3, height: 0.3 }, { width: 760, height: 570 }, scan).map((t) => JSON.stringify(t.region));
    const [before, after] = [keys(0.3), keys(0.302)];
    expect(after.filter((k) => before.includes(k)).length).toBeGreaterThan(before.length / 2);
  });
});

describe('firstLook', () => {
  it('lies in the middle, and is left out where the whole is hardly more', () => {
    const look = firstLook({ x: 0.2, y: 0.4, width: 0.4, height: 0.2 }, { width: 960, height: 720 });
    expect(look?.region.x).toBeCloseTo(0.36, 6);
    expect(look?.region.width).toBeCloseTo(0.08, 6);
    expect(firstLook(whole, { width: 200, height: 150 })).toBeUndefined();
  });
});
