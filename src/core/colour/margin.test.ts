import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomStream } from '../picture/random';
import { chosen, CLASSES } from './classes';
import { tellingOf } from './known';
import { marginOf, tellMargin } from './margin';

const WIDTH = 60,
  HEIGHT = 40;

/** A raster of one lightness round another picture. @param over lightness inside, `border` places from the sides. */
function mounted(mount: number, border: number, over: (x: number, y: number) => number, grain = 0): Float32Array {
  const random = randomStream(4);
  return Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const x = i % WIDTH,
      y = Math.floor(i / WIDTH);
    const inside = x >= border && x < WIDTH - border && y >= border && y < HEIGHT - border;
    return (inside ? over(x, y) : mount) + grain * (random() - 0.5);
  });
}

const scene = (_x: number, y: number): number => (y < HEIGHT / 2 ? 210 : 90);

describe('the margin of a picture', () => {
  it('is what runs round it, dark or light, and nothing of the picture inside', () => {
    fc.assert(
      fc.property(fc.constantFrom(30, 60, 245), fc.integer({ min: 2, max: 9 }), (mount, border) => {
        const margin = marginOf(mounted(mount, border, scene, 8), WIDTH, HEIGHT);
        margin?.forEach((inside, i) => {
          const x = i % WIDTH,
            y = Math.floor(i / WIDTH);
          const apart = Math.min(x, y, WIDTH - 1 - x, HEIGHT - 1 - y);
          expect(inside).toBe(apart < border ? 1 : 0);
        });
        expect(margin).toBeDefined();
      }),
      { numRuns: 20 },
    );
  });

  it('is none where a sky, a backdrop or a floor fills some sides alone', () => {
    const raster = (lightness: (x: number, y: number) => number): Float32Array => mounted(0, 0, lightness);
    expect(marginOf(raster(scene), WIDTH, HEIGHT)).toBeUndefined();
    // Somebody before a backdrop, whom the lower border cuts.
    const sitter = raster((x, y) => (y > 12 && Math.abs(x - 30) < 12 ? 60 : 170));
    expect(marginOf(sitter, WIDTH, HEIGHT)).toBeUndefined();
    // A thing before an even wall, and nothing but the wall.
    const thing = raster((x, y) => (Math.hypot(x - 30, y - 20) < 14 ? 60 : 170));
    expect(marginOf(thing, WIDTH, HEIGHT)).toBeUndefined();
    expect(
      marginOf(
        mounted(90, 0, () => 90, 8),
        WIDTH,
        HEIGHT,
      ),
    ).toBeUndefined();
  });

  it('is paper, which is hardly coloured, and known', () => {
    const blue = CLASSES.findIndex(({ cb, cr }) => cb === 36 && cr === -12);
    const likely = new Float32Array(WIDTH * HEIGHT * CLASSES.length).fill(0.5 / CLASSES.length);
    for (let i = blue; i < likely.length; i += CLASSES.length) likely[i] += 0.5;
    const gathered = { width: WIDTH, height: HEIGHT, likely };
    const telling = tellingOf(gathered);
    tellMargin(telling, { width: WIDTH, height: HEIGHT, luma: mounted(50, 6, scene) });
    const at = (i: number) => chosen(likely.subarray(i * CLASSES.length, (i + 1) * CLASSES.length), 'likely');
    expect(Math.hypot(at(2).cb, at(2).cr)).toBeLessThan(6);
    expect(telling.known[2]).toBe(1);
    const inside = 20 * WIDTH + 30;
    expect(at(inside).cb).toBeGreaterThan(20);
    expect(telling.known[inside]).toBe(0);
  });
});
