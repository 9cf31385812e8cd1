import { describe, expect, it } from 'vitest';
import { randomStream } from '../picture/random';
import { fillFrom } from './fill';
import { grained } from './grain';
import type { Hole } from './hole';

const WIDTH = 110,
  HEIGHT = 90;
const all = Array.from({ length: WIDTH * HEIGHT }, (_, i) => i);
const xOf = (i: number): number => i % WIDTH;
/** A crease a dozen pixels wide. */
const crease = Uint8Array.from(all, (i) => Number(Math.abs(xOf(i) - 55) < 6));

function hole(value: (i: number) => number): Hole {
  return { width: WIDTH, height: HEIGHT, missing: crease, planes: [Uint16Array.from(all, value)] };
}

/** Deviation of what is fine along a row of the middle of the crease, or beside it. */
function roughness(plane: ArrayLike<number>, x: number): number {
  let sum = 0,
    count = 0;
  for (let y = 5; y < HEIGHT - 5; y++)
    for (let column = x - 3; column <= x + 3; column++, count++) {
      const i = y * WIDTH + column;
      sum += (plane[i] - (plane[i - WIDTH] + plane[i + WIDTH]) / 2) ** 2;
    }
  return Math.sqrt(sum / count);
}

describe('grain in what was filled', () => {
  const random = randomStream(3);
  const noise = all.map(() => 1400 * (random() + random() + random() - 1.5));

  it('is as strong as beside it', () => {
    const grainy = hole((i) => (crease[i] ? 60000 : 30000 + 60 * xOf(i) + noise[i]));
    const smooth = Uint16Array.from(all, (i) => (crease[i] ? 30000 + 60 * xOf(i) : grainy.planes[0][i]));
    const made = grained(grainy, smooth, fillFrom(grainy, { seed: 1 }).from);
    const beside = roughness(made, 20);
    expect(roughness(smooth, 55)).toBeLessThan(0.1 * beside);
    expect(roughness(made, 55)).toBeGreaterThan(0.75 * beside);
    expect(roughness(made, 55)).toBeLessThan(1.25 * beside);
    for (const i of all) if (!crease[i]) expect(made[i]).toBe(smooth[i]);
  });

  it('is that of as light a place', () => {
    // Above the middle there is none.
    const half = hole((i) => (i < all.length / 2 ? 12000 : 40000 + noise[i]));
    const smooth = Uint16Array.from(all, (i) => (crease[i] ? (i < all.length / 2 ? 12000 : 40000) : half.planes[0][i]));
    const made = grained(half, smooth, fillFrom(half, { seed: 1 }).from);
    const inside = (top: number, bottom: number): number[] => all.filter((i) => crease[i] && i >= top * WIDTH && i < bottom * WIDTH);
    const off = (places: number[]): number => Math.max(...places.map((i) => Math.abs(made[i] - smooth[i])));
    expect(off(inside(0, 38))).toBeLessThan(10);
    expect(off(inside(52, HEIGHT))).toBeGreaterThan(700);
  });

  it('is not laid on where there is none, nor where it is already', () => {
    const clean = hole((i) => 20000 + 100 * xOf(i));
    expect(grained(clean, clean.planes[0], fillFrom(clean, { seed: 1 }).from)).toEqual(clean.planes[0]);
    const grainy = hole((i) => 30000 + noise[i]);
    const [own] = grainy.planes;
    const made = grained(grainy, own, fillFrom(grainy, { seed: 1 }).from);
    expect(roughness(made, 55)).toBeLessThan(1.1 * roughness(own, 55));
  });
});
