/** Separable resampling and what belongs to it, plain TypeScript: the reference the SIMD kernels are tested against. */

import type { Taps } from './taps';

/** Floats, row by row. */
export interface FloatPlane {
  width: number;
  height: number;
  data: Float32Array;
}

const clamp = (v: number, top: number): number => Math.min(top, Math.max(0, v));

/** Weighs rows, then columns; samples outside are those of the edge. */
export function resampleReference(plane: FloatPlane, columns: Taps, rows: Taps): FloatPlane {
  const width = columns.starts.length,
    height = rows.starts.length;
  const between = new Float64Array(plane.width * height);
  for (let y = 0; y < height; y++) {
    for (let k = 0; k < rows.count; k++) {
      const from = clamp(rows.starts[y] + k, plane.height - 1) * plane.width,
        w = rows.weights[y * rows.count + k];
      for (let x = 0; x < plane.width; x++) between[y * plane.width + x] += w * plane.data[from + x];
    }
  }
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = 0; k < columns.count; k++)
        sum += columns.weights[x * columns.count + k] * between[y * plane.width + clamp(columns.starts[x] + k, plane.width - 1)];
      data[y * width + x] = sum;
    }
  }
  return { width, height, data };
}

/** Holds each output sample within the four source samples round it, give or take `slack` of their spread. */
export function limitReference(source: FloatPlane, columns: Int32Array, rows: Int32Array, slack: number, data: Float32Array): Float32Array {
  const at = (x: number, y: number): number => source.data[clamp(y, source.height - 1) * source.width + clamp(x, source.width - 1)];
  return data.map((v, i) => {
    const c = columns[i % columns.length],
      r = rows[Math.floor(i / columns.length)];
    const four = [at(c, r), at(c + 1, r), at(c, r + 1), at(c + 1, r + 1)];
    const least = Math.min(...four),
      most = Math.max(...four),
      give = (most - least) * slack;
    return Math.min(most + give, Math.max(least - give, v));
  });
}
