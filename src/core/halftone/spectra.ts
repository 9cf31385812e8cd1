import { transform, transformBack } from '../fourier';
import { newPlane, type Plane, type Region } from '../picture/picture';

/**
 * A part of a plane whose spectrum is changed window by window. The windows overlap by half and lie on a raster that is fixed in the frame,
 * so that a part comes out as it does in the whole; edges repeat.
 *
 * @param plane covers `region` and `side` pixels round it, as far as the frame goes; its first sample lies at `origin` of the frame.
 * @param side of the windows, a power of two.
 * @param change changes the spectrum of a window, of `side` x `side` frequencies; the mean is not in it.
 */
export function throughSpectra(
  plane: Plane,
  origin: { x: number; y: number },
  region: Region,
  side: number,
  change: (real: Float64Array, imaginary: Float64Array) => void,
): Plane {
  const { x: left, y: top, width, height } = region;
  const sums = new Float64Array(width * height),
    weights = new Float64Array(width * height);
  const window = Float64Array.from({ length: side }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / side));
  const first = (from: number): number => Math.floor(from / (side / 2)) * (side / 2) - side / 2;
  const held = (v: number, extent: number): number => Math.min(extent - 1, Math.max(0, v));
  for (let wy = first(top); wy < top + height; wy += side / 2) {
    for (let wx = first(left); wx < left + width; wx += side / 2) {
      const real = new Float64Array(side * side),
        imaginary = new Float64Array(side * side);
      let mean = 0;
      for (let y = 0; y < side; y++) {
        const row = held(wy + y - origin.y, plane.height) * plane.width;
        for (let x = 0; x < side; x++) {
          real[y * side + x] = plane.data[row + held(wx + x - origin.x, plane.width)];
          mean += real[y * side + x];
        }
      }
      mean /= side * side;
      for (let y = 0; y < side; y++)
        for (let x = 0; x < side; x++) real[y * side + x] = (real[y * side + x] - mean) * window[x] * window[y];
      transform(real, imaginary, side);
      change(real, imaginary);
      transformBack(real, imaginary, side);
      for (let y = Math.max(0, top - wy); y < Math.min(side, top + height - wy); y++) {
        for (let x = Math.max(0, left - wx); x < Math.min(side, left + width - wx); x++) {
          const i = (wy + y - top) * width + wx + x - left,
            weight = window[x] * window[y];
          sums[i] += (real[y * side + x] + mean * weight) * weight;
          weights[i] += weight * weight;
        }
      }
    }
  }
  const made = newPlane(width, height);
  for (let i = 0; i < sums.length; i++) made.data[i] = Math.min(65535, Math.max(0, Math.round(sums[i] / weights[i])));
  return made;
}
