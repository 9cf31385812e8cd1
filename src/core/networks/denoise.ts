import { network } from './model';
import { KINDS, UNITS } from './steering';

const PICTURE = 12;

/**
 * Luma without noise, as the network "clean" gives it.
 * @param luma samples over 1, sides multiples of 8.
 * @param sigma deviation of the noise in codes of 255.
 * @throws NetworkError when the network cannot be used.
 */
export async function denoiseLuma(luma: Float32Array, width: number, height: number, sigma: number): Promise<Float32Array> {
  const net = await network('clean');
  const quarter = (width * height) / 4,
    half = width / 2;
  const input = new Float32Array((PICTURE + KINDS.length) * quarter);
  const placeOf = (x: number, y: number): number => (((y & 1) << 1) | (x & 1)) * quarter + (y >> 1) * half + (x >> 1);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) input[placeOf(x, y)] = luma[y * width + x];
  input.fill(0.5, 4 * quarter, PICTURE * quarter);
  input.fill(sigma / UNITS.grainLuma, PICTURE * quarter, (PICTURE + 1) * quarter);
  const corrections = await net.run(input, PICTURE + KINDS.length, height / 2, half);
  const made = new Float32Array(luma.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) made[y * width + x] = luma[y * width + x] + corrections[placeOf(x, y)];
  }
  return made;
}
