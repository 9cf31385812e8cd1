/** A sample between samples of a raster, linear; edges repeat. */
export function sampleBetween(raster: { width: number; height: number; data: ArrayLike<number> }, x: number, y: number): number {
  const { width, height, data } = raster;
  const left = Math.floor(x),
    top = Math.floor(y);
  const fx = x - left,
    fy = y - top;
  const a = Math.min(width - 1, Math.max(0, left)),
    b = Math.min(width - 1, Math.max(0, left + 1)),
    c = Math.min(height - 1, Math.max(0, top)) * width,
    d = Math.min(height - 1, Math.max(0, top + 1)) * width;
  const above = data[c + a] + (data[c + b] - data[c + a]) * fx,
    below = data[d + a] + (data[d + b] - data[d + a]) * fx;
  return above + (below - above) * fy;
}

/** Red, green and blue, row by row. */
interface Interleaved {
  data: ArrayLike<number>;
  width: number;
  height: number;
}

/** Adds to `sum` the colour at a place between four samples; beyond the border its own go on. @param x, y from the middle of the first sample. */
export function addBetween({ data, width, height }: Interleaved, x: number, y: number, sum: Float64Array): void {
  const px = Math.min(width - 1, Math.max(0, x)),
    py = Math.min(height - 1, Math.max(0, y));
  const x0 = Math.floor(px),
    y0 = Math.floor(py),
    x1 = Math.min(width - 1, x0 + 1),
    y1 = Math.min(height - 1, y0 + 1);
  const fx = px - x0,
    fy = py - y0;
  for (let c = 0; c < 3; c++) {
    const above = data[3 * (y0 * width + x0) + c] * (1 - fx) + data[3 * (y0 * width + x1) + c] * fx,
      below = data[3 * (y1 * width + x0) + c] * (1 - fx) + data[3 * (y1 * width + x1) + c] * fx;
    sum[c] += above * (1 - fy) + below * fy;
  }
}

/** The samples of a row of `size` before and after a place, 0 to 1 of the whole row, and how far beyond the first it lies; edges repeat. */
export function tapsBetween(at: number, size: number): [before: number, after: number, beyond: number] {
  const place = Math.min(size - 1, Math.max(0, at * size - 0.5));
  const before = Math.floor(place);
  return [before, Math.min(size - 1, before + 1), place - before];
}
