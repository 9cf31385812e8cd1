/** A sample between samples of a raster, linear; edges repeat. */
export function sampleBetween(raster: { width: number; height: number; data: ArrayLike<number> }, x: number, y: number): number {
  const { width, height, data } = raster;
  const held = (v: number, extent: number): number => Math.min(extent - 1, Math.max(0, v));
  const left = Math.floor(x),
    top = Math.floor(y);
  const fx = x - left,
    fy = y - top;
  const [a, b] = [held(left, width), held(left + 1, width)],
    [c, d] = [held(top, height) * width, held(top + 1, height) * width];
  const above = data[c + a] + (data[c + b] - data[c + a]) * fx,
    below = data[d + a] + (data[d + b] - data[d + a]) * fx;
  return above + (below - above) * fy;
}
