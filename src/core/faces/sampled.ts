import { addBetween } from '../picture/between';
import type { Rgb } from '../vision/rgb';
import { moved, type Similarity } from './frame';

/**
 * A square cut out of a picture, turned and scaled: means where it is reduced, between samples where it is enlarged, the border's own colours beyond it.
 * @param at takes pixels of the square to the picture's. @returns red, green and blue, 0 to 255, row by row.
 */
export function sampledRgb(picture: Rgb, at: Similarity, side: number): Float32Array {
  const out = new Float32Array(3 * side * side);
  const n = Math.max(1, Math.ceil(Math.hypot(at.a, at.b)));
  const spot = new Float64Array(2),
    sum = new Float64Array(3);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      sum.fill(0);
      for (let v = 0; v < n; v++) {
        for (let u = 0; u < n; u++) {
          moved(at, x + (u + 0.5) / n, y + (v + 0.5) / n, spot, 0);
          addBetween(picture, spot[0] - 0.5, spot[1] - 0.5, sum);
        }
      }
      for (let c = 0; c < 3; c++) out[3 * (y * side + x) + c] = sum[c] / (n * n);
    }
  }
  return out;
}
