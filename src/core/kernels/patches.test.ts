import { describe, expect, it } from 'vitest';
import { searchPatches, votePatches } from './patches';
import * as reference from './reference/patches';
import { HALF, scrambled, type PatchSearch } from './reference/patches';

const WIDTH = 41,
  HEIGHT = 30;

/** A hole in the middle of a raster of noise that repeats every nine pixels. */
function problem(): PatchSearch {
  const inside = (i: number, border: number): boolean => {
    const x = i % WIDTH,
      y = Math.floor(i / WIDTH);
    return x >= border && y >= border && x < WIDTH - border && y < HEIGHT - border;
  };
  const hole = (i: number): boolean => Math.hypot((i % WIDTH) - 20, Math.floor(i / WIDTH) - 14) < 4;
  const all = Array.from({ length: WIDTH * HEIGHT }, (_, i) => i);
  const planes = [1, 2, 3].map((seed) =>
    Uint8Array.from(all, (i) => scrambled(((i % WIDTH) % 9) + 100 * (Math.floor(i / WIDTH) % 9) + 7000 * seed) & 255),
  );
  const reaches = (i: number): boolean => {
    for (let y = -HALF; y <= HALF; y++) for (let x = -HALF; x <= HALF; x++) if (hole(i + y * WIDTH + x)) return true;
    return false;
  };
  const within = all.filter((i) => inside(i, HALF));
  const targets = Int32Array.from(within.filter(reaches));
  const usable = new Uint8Array(all.length),
    matches = new Int32Array(all.length).fill(-1);
  const free = within.filter((i) => !reaches(i));
  for (const i of free) usable[i] = 1;
  targets.forEach((t, n) => (matches[t] = free[scrambled(n) % free.length]));
  const trust = Uint8Array.from(all, (i) => (hole(i) ? 0 : 255));
  return {
    width: WIDTH,
    height: HEIGHT,
    planes,
    trust,
    usable,
    targets,
    rounds: 5,
    seed: 4,
    reach: 24,
    matches,
    distances: new Int32Array(all.length),
  };
}

describe('patches', () => {
  it('are found as the plain form finds them', () => {
    const a = problem(),
      b = problem();
    searchPatches(a);
    reference.searchPatches(b);
    expect(a.matches).toEqual(b.matches);
    expect(a.distances).toEqual(b.distances);
  });

  it('of what repeats are found where it repeats', () => {
    const search = { ...problem(), rounds: 12 };
    searchPatches(search);
    const exact = [...search.targets].filter((t) => search.distances[t] === 0);
    expect(exact.length / search.targets.length).toBeGreaterThan(0.9);
    for (const t of exact) expect([(search.matches[t] - t) % 9 === 0, search.usable[search.matches[t]]]).toContain(1);
  });

  it('vote for the weighted mean of what they have', () => {
    const search = problem();
    searchPatches(search);
    const { width, height, targets, matches, trust } = search;
    const vote = {
      ...{ width, height, targets, matches },
      planes: search.planes.map((p) => Uint16Array.from(p, (v) => v << 8)),
      weights: Float32Array.from(targets, (_, i) => 0.1 + (i % 7)),
      wanted: trust.map((v) => (v ? 0 : 1)),
    };
    const made = votePatches(vote),
      plain = reference.votePatches(vote);
    expect(made.length).toBe(4);
    made.forEach((sums, p) => sums.forEach((v, i) => expect(Math.abs(v - plain[p][i])).toBeLessThanOrEqual(1e-5 * plain[p][i])));
    made[3].forEach((weight, i) => expect(weight > 0).toBe(vote.wanted[i] === 1));
  });
});
