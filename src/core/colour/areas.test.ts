import { describe, expect, it } from 'vitest';
import { normalStream } from '../picture/random';
import { areaOf } from './areas';
import { linksOf } from './links';

const WIDTH = 120,
  HEIGHT = 90;

/** Lightness of a sky that fades downwards over dark, grainy hills, whose border is at `hills`; a gap in it is as light as the sky. */
function landscape(grain: number, gap = 0): Uint8Array {
  const normal = normalStream(7);
  return Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const x = i % WIDTH,
      y = Math.floor(i / WIDTH);
    const sky = y < hillsAt(x) || Math.abs(x - 30) < gap / 2;
    return Math.min(255, Math.max(0, Math.round((sky ? 225 - y / 2 : 90 + 12 * Math.sin(x / 3)) + grain * normal())));
  });
}
const hillsAt = (x: number): number => 50 + 8 * Math.sin(x / 17);

/** Shares of the sky and of the hills that an area takes in. */
function shares(area: Float32Array): { sky: number; hills: number } {
  const sums = { sky: 0, hills: 0 },
    counts = { sky: 0, hills: 0 };
  area.forEach((v, i) => {
    const part = Math.floor(i / WIDTH) < hillsAt(i % WIDTH) ? 'sky' : 'hills';
    sums[part] += v;
    counts[part]++;
  });
  return { sky: sums.sky / counts.sky, hills: sums.hills / counts.hills };
}

describe('an area that hangs together with a place', () => {
  it.each([0, 2, 5])('is the sky and not the hills, at a grain of %d', (grain) => {
    const { sky, hills } = shares(areaOf(linksOf(landscape(grain), WIDTH, HEIGHT), [10 * WIDTH + 60]));
    expect(sky).toBeGreaterThan(0.9);
    expect(hills).toBeLessThan(0.05);
  });

  it('does not run out through a thin gap', () => {
    const walled = landscape(0);
    // Hills as light as the sky beyond a dark rim with a gap of one place.
    for (let i = 0; i < walled.length; i++) {
      const x = i % WIDTH,
        y = Math.floor(i / WIDTH);
      if (y > hillsAt(x) + 4) walled[i] = 200;
      if (x === 40) walled[i] = 200;
    }
    expect(shares(areaOf(linksOf(walled, WIDTH, HEIGHT), [10 * WIDTH + 60])).hills).toBeLessThan(0.1);
  });

  it('stops at a border that is drawn, and is what it begins with where nothing goes on', () => {
    const barred = new Uint8Array(WIDTH * HEIGHT);
    for (let y = 0; y < HEIGHT; y++) barred.fill(1, y * WIDTH + 80, y * WIDTH + 82);
    const even = new Uint8Array(WIDTH * HEIGHT).fill(120);
    const area = areaOf(linksOf(even, WIDTH, HEIGHT, barred), [10 * WIDTH + 60]);
    expect(area[40 * WIDTH + 20]).toBe(1);
    expect(area[40 * WIDTH + 100]).toBe(0);
  });
});
