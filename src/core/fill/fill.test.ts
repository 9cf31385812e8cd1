import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomStream } from '../picture/random';
import { fillCandidates, CANDIDATES, SHOWN, smoothOf } from './candidates';
import { fillHole } from './fill';
import { smoothFill } from './guess';
import { depths, dilated, halvedHole, type Hole } from './hole';
import { meansWithin } from './means';
import { deepened, seenThrough } from './stain';

const WIDTH = 72,
  HEIGHT = 56;
const all = Array.from({ length: WIDTH * HEIGHT }, (_, i) => i);
const xOf = (i: number): number => i % WIDTH,
  yOf = (i: number): number => Math.floor(i / WIDTH);
const disc = (radius: number) => Uint8Array.from(all, (i) => (Math.hypot(xOf(i) - 37, yOf(i) - 27) < radius ? 1 : 0));

/** What a picture of `value` looks like with a hole in it that is black. */
function hole(missing: Uint8Array, value: (x: number, y: number) => number): { hole: Hole; truth: Uint16Array } {
  const truth = Uint16Array.from(all, (i) => value(xOf(i), yOf(i)));
  return { hole: { width: WIDTH, height: HEIGHT, planes: [truth.map((v, i) => (missing[i] ? 0 : v))], missing }, truth };
}

const rmsIn = (made: ArrayLike<number>, truth: Uint16Array, missing: Uint8Array): number => {
  const inside = all.filter((i) => missing[i]);
  return Math.sqrt(inside.reduce((sum, i) => sum + (made[i] - truth[i]) ** 2, 0) / inside.length) / 256;
};

describe('a smooth fill', () => {
  const missing = disc(9);
  const known = Float32Array.from(missing, (m) => 1 - m);

  it('continues a slope and leaves what is known', () => {
    const { hole: h, truth } = hole(missing, (x, y) => 20000 + 300 * x + 150 * y);
    const [made] = smoothFill([Float32Array.from(h.planes[0])], known, WIDTH, HEIGHT);
    expect(rmsIn(made, truth, missing)).toBeLessThan(3);
    for (const i of all) if (!missing[i]) expect(made[i]).toBe(truth[i]);
  });

  it('is nothing where nothing is known', () => {
    expect(smoothFill([new Float32Array(12)], new Float32Array(12), 4, 3)[0].every((v) => v === 0)).toBe(true);
  });
});

describe('holes', () => {
  it('are as deep as the way out of them', () => {
    const depth = depths(disc(9), WIDTH, HEIGHT);
    expect(depth[27 * WIDTH + 37] / 3).toBeCloseTo(9, 0);
    expect(depth[0]).toBe(0);
  });

  it('grow by a square', () => {
    const random = randomStream(5);
    const mask = Uint8Array.from(all, () => (random() < 0.01 ? 1 : 0));
    const wide = dilated(mask, WIDTH, HEIGHT, 3);
    for (const i of all)
      expect(wide[i]).toBe(all.some((k) => mask[k] && Math.abs(xOf(k) - xOf(i)) <= 3 && Math.abs(yOf(k) - yOf(i)) <= 3) ? 1 : 0);
  });

  it('are missing at half the size only where nothing is there', () => {
    const half = halvedHole({
      width: 4,
      height: 2,
      planes: [Uint16Array.of(10, 20, 0, 0, 0, 30, 0, 0)],
      missing: Uint8Array.of(0, 0, 1, 1, 1, 0, 1, 1),
    });
    expect([...half.planes[0], ...half.missing]).toEqual([20, 0, 0, 1]);
  });

  it('have the means of what counts round them', () => {
    const made = meansWithin([1, 2, 3, 4, 5, 6], Uint8Array.of(1, 0, 1, 1, 1, 1), 3, 2, 1);
    expect(made[0]).toBeCloseTo((1 + 4 + 5) / 3);
    expect(made[2]).toBeCloseTo((3 + 5 + 6) / 3);
  });

  it('have those means in planes of any shape, for any reach', () => {
    const size = fc.integer({ min: 1, max: 9 });
    fc.assert(
      fc.property(size, size, fc.integer({ min: 0, max: 12 }), fc.infiniteStream(fc.nat(255)), fc.boolean(), (w, h, r, values, some) => {
        const plane = Uint8Array.from({ length: w * h }, () => values.next().value as number);
        const counts = some ? plane.map((v) => v % 2) : undefined;
        const made = meansWithin(plane, counts, w, h, r);
        made.forEach((mean, i) => {
          const near = [...plane.keys()].filter(
            (j) => Math.abs((j % w) - (i % w)) <= r && Math.abs(Math.floor(j / w) - Math.floor(i / w)) <= r && (!counts || counts[j]),
          );
          expect(mean).toBeCloseTo(near.length ? near.reduce((sum, j) => sum + plane[j], 0) / near.length : 0, 4);
        });
      }),
    );
  });
});

describe('a fill by patches', () => {
  it('finds what repeats, exactly, and touches nothing else', () => {
    const missing = disc(7);
    const random = randomStream(3);
    const tile = Array.from({ length: 99 }, () => Math.floor(8000 + 50000 * random()));
    const { hole: h, truth } = hole(missing, (x, y) => tile[(x % 11) + 11 * (y % 9)]);
    const [made] = fillHole(h, { seed: 1 });
    expect(rmsIn(made, truth, missing)).toBeLessThan(1.5);
    for (const i of all) if (!missing[i]) expect(made[i]).toBe(truth[i]);
  });

  it('continues an edge through a hole wider than a patch', () => {
    const missing = disc(10);
    const { hole: h, truth } = hole(missing, (x, y) => (x - 37 > 0.5 * (y - 27) ? 45000 : 15000));
    expect(rmsIn(fillHole(h, { seed: 1 })[0], truth, missing)).toBeLessThan(30);
  });

  it('is as light as its rim where what is copied is darker', () => {
    const missing = disc(5);
    const random = randomStream(8);
    const grain = all.map(() => 3000 * (random() - 0.5));
    const { hole: h, truth } = hole(missing, (x, y) => 12000 + 500 * x + grain[y * WIDTH + x]);
    const [made] = fillHole(h, { seed: 1 });
    const mean = (p: ArrayLike<number>): number => {
      const inside = all.filter((i) => missing[i]);
      return inside.reduce((sum, i) => sum + p[i], 0) / inside.length / 256;
    };
    expect(Math.abs(mean(made) - mean(truth))).toBeLessThan(4);
  });

  it('gives the same for the same seed, and something else for another', () => {
    const random = randomStream(9);
    const { hole: h } = hole(disc(8), () => Math.floor(65535 * random()));
    expect(fillHole(h, { seed: 1 })).toEqual(fillHole(h, { seed: 1 }));
    expect(fillHole(h, { seed: 1 })).not.toEqual(fillHole(h, { seed: 2 }));
  });

  it('is smooth where there is nothing to copy', () => {
    const missing = Uint8Array.from(all, (i) => (xOf(i) % 6 === 0 && yOf(i) % 6 === 0 ? 1 : 0));
    const { hole: h, truth } = hole(missing, (x) => 20000 + 200 * x);
    expect(rmsIn(fillHole(h, { seed: 1 })[0], truth, missing)).toBeLessThan(3);
  });
});

describe('ways to fill', () => {
  it('bridge a line along its direction', () => {
    const missing = Uint8Array.from(all, (i) => (Math.abs(xOf(i) - 30) < 3 ? 1 : 0));
    const { hole: h, truth } = hole(missing, (_, y) => (y % 7 < 3 ? 50000 : 9000));
    const { ways } = fillCandidates(h, true);
    expect(ways).toHaveLength(CANDIDATES);
    // The first direction is level.
    expect(rmsIn(ways[2][0], truth, missing)).toBe(0);
    expect(rmsIn(ways[0][0], truth, missing)).toBeGreaterThan(5);
  });

  it('take a stain away in the light of its surroundings, unless what shows is not the picture', () => {
    const missing = disc(9);
    const { hole: h, truth } = hole(missing, (x, y) => 30000 + 4000 * Math.sin(1.3 * x) * Math.cos(1.1 * y));
    h.planes[0] = truth.map((v, i) => (missing[i] ? Math.round(0.55 * v) : v));
    const { ways } = fillCandidates(h, true);
    expect(rmsIn(ways[SHOWN + 1][0], truth, missing)).toBeLessThan(0.5 * rmsIn(ways[0][0], truth, missing));
    const { ways: hidden } = fillCandidates(h, false);
    expect(hidden[SHOWN][0]).toEqual(hidden[0][0]);
  });
});

describe('what shows through a wide stain', () => {
  const missing = disc(20);
  const { truth } = hole(missing, (x, y) => 26000 + 90 * x + 5000 * Math.sin(1.1 * x) * Math.cos(0.9 * y));
  const stained = (value: (v: number) => number): Hole => ({
    ...{ width: WIDTH, height: HEIGHT, missing },
    planes: [truth.map((v, i) => (missing[i] ? Math.round(value(v)) : v))],
  });

  it('is the picture, in the light outside', () => {
    const dim = stained((v) => 0.6 * v);
    const seen = seenThrough(dim, () => smoothOf(dim), 8);
    if (!seen) throw new Error('nothing seen');
    const made = deepened(
      [smoothOf(dim)[0].map(Math.round)].map((p) => new Uint16Array(p)),
      seen,
      2,
      4,
    );
    expect(rmsIn(made[0], truth, missing)).toBeLessThan(0.6 * rmsIn(smoothOf(dim)[0], truth, missing));
    for (const i of all) if (!missing[i]) expect(made[0][i]).toBe(truth[i]);
  });

  it('is nothing where it hides the picture, or is not wide', () => {
    const hidden = stained(() => 40000);
    expect(seenThrough(hidden, () => smoothOf(hidden), 8)).toBeUndefined();
    const dim = stained((v) => 0.6 * v);
    expect(seenThrough(dim, () => smoothOf(dim), 30)).toBeUndefined();
  });
});
