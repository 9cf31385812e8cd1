import { kernels } from '../kernels/wasm';
import { type Graph, graphsOf } from './coarser';
import type { Links } from './links';

/**
 * Colours that are known at some places of a raster, spread over all of it along what links neighbouring places: the sparse, symmetric system
 * (D + L) x = b of optimised colouring (Levin, Lischinski and Weiss, 2004), L the weighted Laplacian of the links. It is solved by conjugate gradients
 * with a cycle over ever coarser graphs before each step, each of which takes two such steps of its own (Notay and Vassilevski, Recursive Krylov-based
 * multigrid cycles, 2008), all channels at once.
 */

/** Values a place has, a vector of the kernels. */
export const CHANNELS = 4;

/** One graph: where what links its places, its diagonal and its vectors lie in the kernels' memory. */
interface Level {
  size: number;
  starts: number;
  to: number;
  widths: number;
  /** How strongly each place is held to its own value. */
  pull: number;
  /** One over the diagonal. */
  inverse: number;
  part: number;
  /** What is asked of this graph, and what of it is left. */
  asked: number;
  /** An approximate answer to that, and what it makes. */
  answer: number;
  made: number;
  /** The answer of two steps, the first of their ways, and what that makes. */
  whole: number;
  way: number;
  wayMade: number;
}

/** Sweeps over the coarsest graph. */
const LAST_SWEEPS = 20;
/** Places of a graph under which one step is enough. */
const SMALL = 500;
/** Steps at most. */
const MOST_STEPS = 80;

/** How a system is solved. */
export interface Solving {
  /** How far the next cycle may move values, in parts of the largest one asked for; small pockets within edges may be off by some twenty times that. */
  off: number;
  /** Whether places begin at their own values and not at nought: where all have one, the answer lies nearer to them. */
  fromOwn: boolean;
}

/** For values that few places have, as hints give them. */
const EXACT: Solving = { off: 2e-3, fromOwn: false };

/** Factors of the channels. */
const NONE: readonly number[] = new Array<number>(CHANNELS).fill(0),
  ALL: readonly number[] = new Array<number>(CHANNELS).fill(1);

/** Graphs of links that were spread along last: marks are moved one by one, and links stay. */
const graphsFor = new WeakMap<Links, Graph[]>();

function rememberedGraphs(links: Links): Graph[] {
  const graphs = graphsFor.get(links) ?? graphsOf(links);
  graphsFor.set(links, graphs);
  return graphs;
}

/** Lays graphs into the kernels' memory. @param pull how strongly each place of the finest is held to its own value. */
function laid(graphs: readonly Graph[], pull: Float32Array): Level[] {
  const { arena } = kernels();
  return graphs.map(({ size, starts, to, width, sum, part }, n) => {
    const inverse = new Float32Array(size),
      next = new Float32Array(graphs[n + 1]?.size ?? 0);
    for (let i = 0; i < size; i++) {
      inverse[i] = 1 / (pull[i] + sum[i]);
      if (next.length > 0) next[part[i]] += pull[i];
    }
    const held = arena.putFloats(pull);
    pull = next;
    const vector = (): number => arena.reserve(4 * CHANNELS * size);
    return {
      ...{ size, starts: arena.putInts(starts), to: arena.putInts(to), widths: arena.putFloats(width), part: arena.putInts(part) },
      ...{ pull: held, inverse: arena.putFloats(inverse) },
      ...{ asked: vector(), answer: vector(), made: vector(), whole: vector(), way: vector(), wayMade: vector() },
    };
  });
}

/** Steps over vectors of a graph, all channels at once. */
function vectors() {
  const { run, arena } = kernels();
  const doubles = arena.reserve(CHANNELS * 8),
    four = arena.reserve(CHANNELS * 4);
  const put = (values: readonly number[]): number => {
    arena.viewFloats(four, CHANNELS).set(values);
    return four;
  };
  return {
    dot(a: number, b: number, size: number): number[] {
      run.spreadDot(a, b, size, doubles);
      return [...new Float64Array(arena.memory.buffer, doubles, CHANNELS)];
    },
    largest(a: number, size: number): number[] {
      run.spreadLargest(a, size, four);
      return [...arena.viewFloats(four, CHANNELS)];
    },
    /** to += factors * from. */
    add: (to: number, from: number, factors: readonly number[], size: number): void => run.spreadAdd(to, from, put(factors), size),
    /** way = answer + factors * way. */
    turn: (way: number, answer: number, factors: readonly number[], size: number): void => run.spreadTurn(way, answer, put(factors), size),
    copy: (to: number, from: number, size: number): void =>
      arena.viewFloats(to, CHANNELS * size).set(arena.viewFloats(from, CHANNELS * size)),
    clear: (at: number, size: number): void => void arena.viewFloats(at, CHANNELS * size).fill(0),
  };
}

const over = (a: readonly number[], b: readonly number[]): number[] => a.map((v, c) => (b[c] > 0 ? v / b[c] : 0));

const negative = (values: readonly number[]): number[] => values.map((v) => -v);

/** A solver over levels: `cycle` answers approximately what is asked of one. */
function solver(levels: readonly Level[]) {
  const { run } = kernels();
  const { dot, largest, add, turn, copy, clear } = vectors();

  const product = ({ size, starts, to, widths, pull }: Level, x: number, out: number): void =>
    run.spreadProduct({ x, starts, to, widths, pull, size, out });

  /** From nought: a sweep, what the coarser graphs say of what is left, and a sweep back. */
  function cycle(n: number): void {
    const here = levels[n];
    const { size, starts, to, widths, inverse, part, asked, answer } = here;
    const sweep = (backwards: boolean): void => run.spreadSweep({ x: answer, b: asked, starts, to, widths, inverse, size, backwards });
    run.spreadFirst({ x: answer, b: asked, starts, to, widths, inverse, size });
    if (n === levels.length - 1) {
      sweep(true);
      for (let k = 1; k < LAST_SWEEPS; k++) {
        sweep(false);
        sweep(true);
      }
      return;
    }
    const there = levels[n + 1];
    clear(there.asked, there.size);
    run.spreadGather({ x: answer, starts, to, widths, part, size, out: there.asked });
    twoSteps(n + 1);
    run.spreadScatter(there.whole, part, answer, size);
    sweep(true);
  }

  /** What is asked of a level answered by two steps of conjugate gradients, a cycle before each; by a cycle alone where it is small. */
  function twoSteps(n: number): void {
    const here = levels[n];
    const { size, asked, answer, made, whole, way, wayMade } = here;
    cycle(n);
    copy(whole, answer, size);
    if (size < SMALL) return;
    copy(way, answer, size);
    product(here, way, wayMade);
    const bend = dot(way, wayMade, size);
    const far = over(dot(way, asked, size), bend);
    add(asked, wayMade, negative(far), size);
    cycle(n);
    product(here, answer, made);
    const along = dot(answer, wayMade, size);
    // What the second way has of the first is none of its own.
    const shared = over(along, bend);
    const own = dot(answer, made, size).map((v, c) => v - shared[c] * along[c]);
    const second = over(dot(answer, asked, size), own);
    clear(whole, size);
    add(
      whole,
      way,
      far.map((v, c) => v - second[c] * shared[c]),
      size,
    );
    add(whole, answer, second, size);
  }

  return { cycle, product, dot, largest, add, turn, copy, clear };
}

/**
 * @param pull how strongly each place is held to its own value; somewhere above 0.
 * @param wanted `pull` times those values, `CHANNELS` a place.
 * @returns `CHANNELS` values a place.
 */
export function spread(links: Links, pull: Float32Array, wanted: Float32Array, { off, fromOwn }: Solving = EXACT): Float32Array {
  const { arena } = kernels();
  const most = [...NONE];
  for (let i = 0; i < pull.length; i++)
    for (let c = 0; c < CHANNELS; c++) {
      const asked = wanted[CHANNELS * i + c];
      // Marks hold few places; all others ask for nothing.
      if (asked !== 0) most[c] = Math.max(most[c], Math.abs(asked) / pull[i]);
    }
  return arena.scope(() => {
    const levels = laid(rememberedGraphs(links), pull);
    const [finest] = levels;
    const { size, asked: left, answer, way, wayMade, whole: x } = finest;
    const { cycle, product, dot, largest, add, turn, clear } = solver(levels);
    arena.viewFloats(left, CHANNELS * size).set(wanted);
    clear(x, size);
    if (fromOwn) {
      const values = arena.viewFloats(x, CHANNELS * size);
      for (let i = 0; i < size; i++) for (let c = CHANNELS * i; c < CHANNELS * (i + 1); c++) values[c] = wanted[c] / pull[i];
      product(finest, x, wayMade);
      add(left, wayMade, negative(ALL), size);
    }
    clear(way, size);
    clear(wayMade, size);
    let bend = NONE;
    for (let step = 0; step < MOST_STEPS; step++) {
      // What is left, as far as it would move the answer: where links are weak, little of it moves it far.
      cycle(0);
      if (largest(answer, size).every((v, c) => v <= off * most[c])) {
        add(x, answer, ALL, size);
        break;
      }
      // Cycles with steps of their own differ from time to time: the new way is made free of the last one.
      turn(way, answer, negative(over(dot(answer, wayMade, size), bend)), size);
      product(finest, way, wayMade);
      bend = dot(way, wayMade, size);
      const far = over(dot(way, left, size), bend);
      add(x, way, far, size);
      add(left, wayMade, negative(far), size);
    }
    return arena.takeFloats(x, CHANNELS * size);
  });
}
