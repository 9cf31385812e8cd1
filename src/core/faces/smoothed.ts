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
        let value = 0;
        for (let k = 0; k < taps.length; k++) value += taps[k] * line[x + k];
        to[x * side + y] = value / sum;
      }
    }
  };
  pass(plane, between);
  pass(between, out);
  return out;
}
