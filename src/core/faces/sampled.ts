import type { Rgb } from '../vision/rgb';
import { moved, type Similarity } from './frame';

/**
 * A square cut out of a picture, turned and scaled: means where it is reduced, between samples where it is enlarged, the border's own colours beyond it.
 * @param at takes pixels of the square to the picture's. @returns red, green and blue, 0 to 255, row by row.
 */
export function sampledRgb({ data, width, height }: Rgb, at: Similarity, side: number): Float32Array {
  const out = new Float32Array(3 * side * side);
  const n = Math.max(1, Math.ceil(Math.hypot(at.a, at.b)));
  const spot = new Float32Array(2);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const o = 3 * (y * side + x);
      for (let v = 0; v < n; v++) {
        for (let u = 0; u < n; u++) {
          moved(at, x + (u + 0.5) / n, y + (v + 0.5) / n, spot, 0);
          const px = Math.min(width - 1, Math.max(0, spot[0] - 0.5)),
            py = Math.min(height - 1, Math.max(0, spot[1] - 0.5));
          const x0 = Math.floor(px),
            y0 = Math.floor(py),
            x1 = Math.min(width - 1, x0 + 1),
            y1 = Math.min(height - 1, y0 + 1),
            fx = px - x0,
            fy = py - y0;
          for (let c = 0; c < 3; c++) {
            const top = data[3 * (y0 * width + x0) + c] * (1 - fx) + data[3 * (y0 * width + x1) + c] * fx,
              bottom = data[3 * (y1 * width + x0) + c] * (1 - fx) + data[3 * (y1 * width + x1) + c] * fx;
            out[o + c] += (top * (1 - fy) + bottom * fy) / (n * n);
          }
        }
      }
    }
  }
  return out;
}
