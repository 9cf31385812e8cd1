import { kernels } from '../kernels/wasm';

/**
 * Colours that are known at some places of a raster, spread over all of it along what links neighbouring places: the sparse, symmetric system
 * (D + L) x = b of optimised colouring (Levin, Lischinski and Weiss, 2004), L the weighted Laplacian of the links. It is solved by conjugate gradients
 * with a cycle over ever coarser rasters before each step (multigrid; Braess, 1995), all channels at once.
 */

/** How readily colour passes between neighbouring places. */
export interface Links {
  width: number;
  height: number;
  /** Between a place and the one to its right; 0 at the right edge. */
  across: Float32Array;
  /** Between a place and the one below; 0 at the lower edge. */
  down: Float32Array;
}

/** Values a place has, a vector of the kernels. */
export const CHANNELS = 4;

/** One raster: where its links, its diagonal and its vectors lie in the kernels' memory, each with a row of nought before and after. */
interface Level {
  width: number;
  /** Places of it, and with both rows. */
  size: number;
  padded: number;
  across: number;
  down: number;
  diagonal: number;
  /** One over the diagonal. */
  inverse: number;
  /** What is asked of this raster, its answer, and what that makes. */
  asked: number;
  answer: number;
  made: number;
}

/** Places a side under which a raster is made no coarser. */
const COARSEST = 4;
/** Sweeps over the coarsest raster. */
const LAST_SWEEPS = 20;
/** Steps at most, and how far values may be off, in parts of the largest one asked for. */
const MOST_STEPS = 80,
  OFF = 6e-3;

interface Raster extends Links {
  /** How strongly each place is held to its own value. */
  pull: Float32Array;
}

/** The raster of half the size: four places become one, and links between them are halved, as their ends lie twice as far apart. */
function coarser({ width, height, across, down, pull }: Raster): Raster {
  const w = (width + 1) >> 1,
    h = (height + 1) >> 1;
  const empty = (): Float32Array => new Float32Array(w * h);
  const made = { width: w, height: h, across: empty(), down: empty(), pull: empty() };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x,
        to = (y >> 1) * w + (x >> 1);
      made.pull[to] += pull[i];
      if (x & 1) made.across[to] += across[i] / 2;
      if (y & 1) made.down[to] += down[i] / 2;
    }
  return made;
}

/** Lays a raster into the kernels' memory. */
function laid({ width, height, across, down, pull }: Raster): Level {
  const { arena } = kernels();
  const size = width * height,
    padded = size + 2 * width;
  const floats = (values: Float32Array): number => {
    const at = arena.putFloats(new Float32Array(padded));
    arena.viewFloats(at, padded).set(values, width);
    return at;
  };
  const diagonal = pull.map((own, i) => own + across[i] + (i % width ? across[i - 1] : 0) + down[i] + (i < width ? 0 : down[i - width]));
  const vector = (): number => arena.putFloats(new Float32Array(CHANNELS * padded));
  return {
    ...{ width, size, padded, across: floats(across), down: floats(down) },
    ...{ diagonal: floats(diagonal), inverse: floats(diagonal.map((v) => 1 / v)) },
    ...{ asked: vector(), answer: vector(), made: vector() },
  };
}

function levelsOf(raster: Raster): Level[] {
  const here = laid(raster);
  return Math.min(raster.width, raster.height) <= COARSEST ? [here] : [here, ...levelsOf(coarser(raster))];
}

/** One cycle down to the coarsest raster and back, begun from nought: an approximate answer, symmetric in what is asked. */
function cycle(levels: readonly Level[], n: number): void {
  const { run, arena } = kernels();
  const here = levels[n];
  const { width, size, padded, across, down, diagonal, inverse, asked, answer, made } = here;
  const sweep = (backwards: boolean): void => run.spreadSweep({ x: answer, b: asked, across, down, inverse, width, size, backwards });
  arena.viewFloats(answer, CHANNELS * padded).fill(0);
  if (n === levels.length - 1) {
    for (let k = 0; k < LAST_SWEEPS; k++) {
      sweep(false);
      sweep(true);
    }
    return;
  }
  sweep(false);
  run.spreadProduct({ x: answer, across, down, diagonal, width, size, out: made });
  const there = levels[n + 1];
  arena.viewFloats(there.asked, CHANNELS * there.padded).fill(0);
  run.spreadGather(asked, made, width, size, there.width, there.asked);
  cycle(levels, n + 1);
  run.spreadScatter(there.answer, there.width, answer, width, size);
  sweep(true);
}

/**
 * @param pull how strongly each place is held to its own value; somewhere above 0.
 * @param wanted `pull` times those values, `CHANNELS` a place.
 * @returns `CHANNELS` values a place.
 */
export function spread(links: Links, pull: Float32Array, wanted: Float32Array): Float32Array {
  const { run, arena } = kernels();
  const most = new Array<number>(CHANNELS).fill(0);
  for (let i = 0; i < pull.length; i++)
    for (let c = 0; c < CHANNELS; c++) most[c] = Math.max(most[c], Math.abs(wanted[CHANNELS * i + c]) / (pull[i] || Infinity));
  return arena.scope(() => {
    const levels = levelsOf({ ...links, pull });
    const [{ width, size, padded, across, down, diagonal, asked, answer, made }] = levels;
    const length = CHANNELS * padded,
      offset = CHANNELS * width;
    const [x, left, way] = [0, 1, 2].map(() => arena.putFloats(new Float32Array(length)));
    const doubles = arena.reserve(CHANNELS * 8),
      four = arena.reserve(CHANNELS * 4);
    const dot = (a: number, b: number): number[] => {
      run.spreadDot(a, b, padded, doubles);
      return [...new Float64Array(arena.memory.buffer, doubles, CHANNELS)];
    };
    const factors = (values: number[]): number => {
      arena.viewFloats(four, CHANNELS).set(values);
      return four;
    };
    arena.viewFloats(left, length).set(wanted, offset);
    let before: number[] | undefined;
    let settled = false;
    for (let step = 0; step < MOST_STEPS; step++) {
      arena.viewFloats(asked, length).set(arena.viewFloats(left, length));
      // What is left, as far as it would move the answer: where links are weak, little of it moves it far.
      cycle(levels, 0);
      run.spreadLargest(answer, padded, four);
      const small = arena.viewFloats(four, CHANNELS).every((v, c) => v <= OFF * most[c]);
      // One cycle alone may move little where links are weak, and the next one more.
      if (small && settled) break;
      settled = small;
      const gain = dot(left, answer);
      run.spreadTurn(way, answer, factors(gain.map((v, c) => (before?.[c] ? v / before[c] : 0))), padded);
      before = gain;
      run.spreadProduct({ x: way, across, down, diagonal, width, size, out: made });
      const bend = dot(way, made);
      const far = gain.map((v, c) => (bend[c] > 0 ? v / bend[c] : 0));
      run.spreadAdd(x, way, factors(far), padded);
      run.spreadAdd(left, made, factors(far.map((v) => -v)), padded);
    }
    return arena.viewFloats(x, length).slice(offset, offset + CHANNELS * size);
  });
}
