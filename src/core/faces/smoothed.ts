/** A Gaussian over a square, its borders repeated. */
export function smoothed(plane: Float32Array, side: number, sigma: number): Float32Array {
  const reach = Math.ceil(3 * sigma);
  const taps = Float32Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-0.5 * ((i - reach) / sigma) ** 2));
  const sum = taps.reduce((a, b) => a + b, 0);
  const line = new Float32Array(side + 2 * reach);
  const out = new Float32Array(plane.length),
    between = new Float32Array(plane.length);
  // Rows first, written as columns, and then those.
  const pass = (from: Float32Array, to: Float32Array): void => {
    for (let y = 0; y < side; y++) {
      const row = y * side;
      line.fill(from[row], 0, reach);
      line.set(from.subarray(row, row + side), reach);
      line.fill(from[row + side - 1], reach + side);
      for (let x = 0; x < side; x++) {
        const middle = x + reach;
        let value = taps[reach] * line[middle];
        for (let k = 1; k <= reach; k++) value += taps[reach + k] * (line[middle - k] + line[middle + k]);
        to[x * side + y] = value / sum;
      }
    }
  };
  pass(plane, between);
  pass(between, out);
  return out;
}

/** Deviation, in pixels, from which means over squares stand for a Gaussian. */
const BROAD = 3;
/** Means that are taken one after the other. */
const TIMES = 3;

/** Nearly a Gaussian, in a time that does not grow with its width: means over squares, three times (Kovesi, 2010). Its borders are repeated. */
export function smoothedBroadly(plane: Float32Array, side: number, sigma: number): Float32Array {
  if (sigma < BROAD) return smoothed(plane, side, sigma);
  const ideal = Math.sqrt((12 * sigma ** 2) / TIMES + 1);
  const narrow = 2 * Math.floor((ideal - 1) / 2) + 1;
  const narrows = Math.round((12 * sigma ** 2 - TIMES * narrow ** 2 - 4 * TIMES * narrow - 3 * TIMES) / (-4 * narrow - 4));
  let out = plane;
  for (let n = 0; n < TIMES; n++) {
    const reach = ((n < narrows ? narrow : narrow + 2) - 1) / 2;
    out = turnedMeans(turnedMeans(out, side, reach), side, reach);
  }
  return out;
}

/** Means over rows, rows written as columns. */
function turnedMeans(plane: Float32Array, side: number, reach: number): Float32Array {
  const out = new Float32Array(plane.length);
  const width = 2 * reach + 1;
  for (let y = 0; y < side; y++) {
    const row = y * side,
      last = row + side - 1;
    let sum = (reach + 1) * plane[row];
    for (let x = 1; x <= reach; x++) sum += plane[Math.min(last, row + x)];
    for (let x = 0; x < side; x++) {
      out[x * side + y] = sum / width;
      sum += plane[Math.min(last, row + x + reach + 1)] - plane[Math.max(row, row + x - reach)];
    }
  }
  return out;
}
