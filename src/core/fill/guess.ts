/** Samples of one raster, row by row. */
export interface Field {
  width: number;
  height: number;
  data: Float32Array;
}

/** Levels at most: each halves the raster. */
const MAX_LEVELS = 12;

interface Level {
  width: number;
  height: number;
  sums: Float32Array[];
  weights: Float32Array;
}

/**
 * Fills samples smoothly from those around them: the raster is halved as long as something is missing, and brought back (push and pull,
 * Gortler et al., The Lumigraph, 1996).
 *
 * @param planes of `width` x `height` samples.
 * @param known 1 where a sample is known, 0 where it is to be filled; between them it counts in part.
 * @param wanted not 0 where samples are asked for, the others may stay unfilled; all where left out.
 * @returns planes with the known samples as they were; zero where nothing at all is known.
 */
export function smoothFill(
  planes: Float32Array[],
  known: Float32Array,
  width: number,
  height: number,
  wanted?: Uint8Array,
): Float32Array[] {
  const levels: Level[] = [{ width, height, sums: planes.map((plane) => weighed(plane, known)), weights: known }];
  while (levels.length < MAX_LEVELS) {
    const last = levels[levels.length - 1];
    if (last.width * last.height <= 4 || last.weights.every((w) => w >= 1)) break;
    levels.push(halved(last));
  }
  let filled = divided(levels[levels.length - 1]);
  for (let n = levels.length - 2; n >= 0; n--) filled = brought(levels[n], filled, levels[n + 1], n === 0 ? wanted : undefined);
  return filled;
}

function weighed(plane: Float32Array, weights: Float32Array): Float32Array {
  const out = new Float32Array(plane.length);
  for (let i = 0; i < out.length; i++) out[i] = plane[i] * weights[i];
  return out;
}

/** Four samples gathered; a quarter known is enough to count as known. */
function halved({ width, height, sums, weights }: Level): Level {
  const w = (width + 1) >> 1,
    h = (height + 1) >> 1;
  const next: Level = { width: w, height: h, sums: sums.map(() => new Float32Array(w * h)), weights: new Float32Array(w * h) };
  const gather = (from: Float32Array, to: Float32Array): void => {
    for (let y = 0, i = 0; y < height; y++) {
      const row = (y >> 1) * w;
      for (let x = 0; x < width; x++, i++) to[row + (x >> 1)] += from[i];
    }
  };
  gather(weights, next.weights);
  sums.forEach((sum, p) => gather(sum, next.sums[p]));
  for (let i = 0; i < w * h; i++) {
    const weight = next.weights[i];
    if (weight <= 1) continue;
    for (const sum of next.sums) sum[i] /= weight;
    next.weights[i] = 1;
  }
  return next;
}

const divided = ({ sums, weights }: Level): Float32Array[] => sums.map((sum) => sum.map((v, i) => (weights[i] > 0 ? v / weights[i] : 0)));

/** A level with what it lacks taken from the coarser one, linear between its samples. */
function brought({ width, height, sums, weights }: Level, coarse: Float32Array[], from: Level, wanted?: Uint8Array): Float32Array[] {
  const across = places(width, from.width),
    down = places(height, from.height);
  const lacking = new Int32Array(width * height);
  let count = 0;
  for (let i = 0; i < lacking.length; i++) if (weights[i] < 1 && (!wanted || wanted[i])) lacking[count++] = i;
  return sums.map((sum, p) => {
    const out = sum.slice();
    const plane = coarse[p];
    for (let n = 0; n < count; n++) {
      const i = lacking[n],
        x = i % width,
        y = (i - x) / width;
      const above = down.first[y] * from.width,
        below = down.next[y] * from.width,
        fy = down.share[y];
      const a = across.first[x],
        b = across.next[x],
        fx = across.share[x];
      const left = plane[above + a] + (plane[below + a] - plane[above + a]) * fy,
        right = plane[above + b] + (plane[below + b] - plane[above + b]) * fy;
      out[i] = sum[i] + (1 - weights[i]) * (left + (right - left) * fx);
    }
    return out;
  });
}

/** For each fine sample the two coarse ones it lies between, and how near to the second. */
function places(count: number, coarse: number): { first: Int32Array; next: Int32Array; share: Float32Array } {
  const first = new Int32Array(count),
    next = new Int32Array(count),
    share = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const at = (i + 0.5) / 2 - 0.5,
      base = Math.floor(at);
    first[i] = Math.min(coarse - 1, Math.max(0, base));
    next[i] = Math.min(coarse - 1, base + 1);
    share[i] = at - base;
  }
  return { first, next, share };
}
