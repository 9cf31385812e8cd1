import { expect, it } from 'vitest';
import { normalStream } from '../picture/random';
import { linksOf, type Links } from './links';

const SIDE = 120;
const X = 40,
  Y = 60;

/** Something light on the left, and two dark things beside it that differ by 21 codes, soft at their edges and grainy; the edge between them falls by `slope`. */
function beside(light: number, slope: number, seed: number): Uint8Array {
  const normal = normalStream(seed);
  const level = (x: number, y: number): number => (x < X ? light : y - Y < slope * (x - X) ? 61 : 40);
  return Uint8Array.from({ length: SIDE * SIDE }, (_, i) => {
    let sum = 0;
    for (let v = -1; v <= 1; v++) for (let u = -1; u <= 1; u++) sum += level((i % SIDE) + u, Math.floor(i / SIDE) + v);
    return Math.round(sum / 9 + 3 * normal());
  });
}

/** What the easiest way from one place to another resists: the inverses of its links. */
function resistance({ across, down }: Links, start: number, end: number): number {
  const least = new Float64Array(SIDE * SIDE).fill(Infinity);
  least[start] = 0;
  const waiting = new Set([start]);
  for (const i of waiting) {
    waiting.delete(i);
    for (const [next, link] of [
      [i + 1, across[i]],
      [i - 1, across[i - 1]],
      [i + SIDE, down[i]],
      [i - SIDE, down[i - SIDE]],
    ])
      if (link > 0 && least[i] + 1 / link < least[next] - 1e-9) {
        least[next] = least[i] + 1 / link;
        waiting.add(next);
      }
  }
  return least[end];
}

it.each([0.6, 1.5])('a low edge that ends at a high one lets nothing round its end, falling by %s', (slope) => {
  for (const seed of [1, 2, 3, 4]) {
    const links = linksOf(beside(195, slope, seed), SIDE, SIDE);
    expect(resistance(links, 30 * SIDE + 100, 110 * SIDE + 45)).toBeGreaterThan(4000);
  }
});

it('colour passes freely where nothing but grain is', () => {
  const links = linksOf(beside(61, 0, 5), SIDE, SIDE);
  expect(resistance(links, 20 * SIDE + 10, 40 * SIDE + 100)).toBeLessThan(150);
});
