import { meansWithin } from '../fill/means';
import type { Links } from './links';
import { CHANNELS, spread } from './spread';

/** How far what is marked has a say where nothing stops it, in parts of the longer side. */
const REACH = 2;
/** What a mark holds. */
const HELD = 8;
/** What of a mark's say must arrive at a place for it to be part of the area: under the first none of it is, from the second on all. */
const ARRIVES = { from: 0.6, to: 0.8 };
/** Steps in which it is counted how readily colour passes. */
const LEVELS = 64;
/** Places to each side over which it is counted how readily colour passes, so that nothing runs out through a gap in an edge. */
const GAP = 1;
/** How readily colour passes on the hardest step of the way: what lies beyond less is no part of an area, and what lies within more is all of it. */
const PASSES = { from: 0.5, to: 0.75 };

/**
 * What hangs together with a place as far as lightness goes on alike: where a way leads that is easy at each of its steps, and where most of what is said
 * at the place arrives along all ways together (after Grady, Random Walks for Image Segmentation, 2006). The one does not enter what an edge encloses, the
 * other does not run out along a chain of weak places.
 *
 * @param from places to begin at.
 * @returns how much each place is part of the area, 0 to 1.
 */
export function areaOf(links: Links, from: readonly number[]): Float32Array {
  const easy = easiest(links, from);
  return saidBy(links, from).map((v, i) => Math.min(easy[i], smooth((v - ARRIVES.from) / (ARRIVES.to - ARRIVES.from))));
}

/** How much of what is said at some places arrives at each. */
function saidBy(links: Links, from: readonly number[]): Float32Array {
  const { width, height } = links;
  const size = width * height;
  const pull = new Float32Array(size).fill(1 / (REACH * Math.max(width, height)) ** 2),
    wanted = new Float32Array(CHANNELS * size);
  for (const i of from) {
    pull[i] += HELD;
    wanted[CHANNELS * i] = HELD;
  }
  const found = spread(links, pull, wanted);
  return Float32Array.from({ length: size }, (_, i) => found[CHANNELS * i]);
}

/** How easy the hardest step of the easiest way to each place is (the widest path; Dijkstra's search with steps of readiness for lengths), 0 to 1. */
function easiest({ width, height, across, down }: Links, from: readonly number[]): Float32Array {
  const size = width * height;
  const all = new Uint8Array(size).fill(1);
  // The mean, for in grain single steps are hard anywhere.
  const open = meansWithin(
    Float32Array.from({ length: size }, (_, i) => ((i % width < width - 1 ? across[i] : 1) + (i < size - width ? down[i] : 1)) / 2),
    all,
    width,
    height,
    GAP,
  );
  const reached = new Int16Array(size).fill(-1);
  const waiting: number[][] = Array.from({ length: LEVELS }, () => []);
  for (const i of from) {
    reached[i] = LEVELS - 1;
    waiting[LEVELS - 1].push(i);
  }
  for (let level = LEVELS - 1; level >= 0; level--)
    for (let next = waiting[level].pop(); next !== undefined; next = waiting[level].pop()) {
      if (reached[next] !== level) continue;
      for (const near of around(next, width, height)) {
        const there = Math.min(level, Math.round(open[near] * (LEVELS - 1)));
        if (there <= reached[near]) continue;
        reached[near] = there;
        waiting[there].push(near);
      }
    }
  const covered = Float32Array.from(reached, (level) => smooth((level / (LEVELS - 1) - PASSES.from) / (PASSES.to - PASSES.from)));
  // Up to the edge itself, which the gap kept it from.
  let grown: Float32Array = covered;
  for (let n = 0; n <= GAP; n++) grown = grownOnce(grown, { width, height, across, down });
  return grown;
}

function* around(i: number, width: number, height: number): Iterable<number> {
  if (i % width > 0) yield i - 1;
  if (i % width < width - 1) yield i + 1;
  if (i >= width) yield i - width;
  if (i < width * (height - 1)) yield i + width;
}

/** An area with the places beside it, as far as colour passes to them. */
function grownOnce(covered: Float32Array, { width, height, across, down }: Links): Float32Array {
  const out = covered.slice();
  for (let i = 0; i < out.length; i++)
    for (const near of around(i, width, height)) {
      const first = Math.min(i, near);
      out[i] = Math.max(out[i], covered[near] * (Math.abs(i - near) === 1 ? across[first] : down[first]));
    }
  return out;
}

function smooth(t: number): number {
  const held = Math.min(1, Math.max(0, t));
  return held * held * (3 - 2 * held);
}
