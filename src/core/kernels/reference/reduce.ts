import { newPlane, type Plane } from '../../picture/picture';

/** A plane at a smaller size: each sample is the mean of the area it covers, parts of samples at its edges by their share. */
export function referenceReduce({ width, height, data }: Plane, outWidth: number, outHeight: number): Plane {
  const out = newPlane(outWidth, outHeight);
  const within = (n: number, from: number, to: number): number => Math.max(0, Math.min(to, n + 1) - Math.max(from, n));
  for (let y = 0; y < outHeight; y++)
    for (let x = 0; x < outWidth; x++) {
      const [left, right] = [x, x + 1].map((n) => (n * width) / outWidth),
        [top, low] = [y, y + 1].map((n) => (n * height) / outHeight);
      let sum = 0;
      for (let v = 0; v < height; v++)
        for (let u = 0; u < width; u++) sum += within(u, left, right) * within(v, top, low) * data[v * width + u];
      out.data[y * outWidth + x] = Math.round(sum / ((right - left) * (low - top)));
    }
  return out;
}
