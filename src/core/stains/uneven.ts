import { meansWithin } from '../fill/means';
import { sampleBetween } from '../picture/between';
import type { Compared } from './raster';

/** Pixels along the border that say about the same. */
export const ALIKE = 6;
/** Pixels to all sides of a place of the border that tell together how much stronger the stain is there. */
const ABOUT = 20;
/** How many times its error that is held to be doubtful by; more where comparisons differ, for there the picture does: from this square of logarithms on twice as much. */
const DOUBT = 10,
  DIFFERS = 0.003;
/** Pixels in steps of which places are taken, of the border and of what is carried from them, and how far off one may be to count in full. */
const EVERY = 4,
  BESIDE = 3;

/**
 * How much a stain has made darker or lighter where it is not equally strong everywhere: along its border it is measured again place by place, and what
 * that is off is carried into the stain by distance (Shepard, 1968), as far as it is certain.
 *
 * @param light logarithms, the same along all of the border.
 * @param deepest pixels from the border to which light is compared.
 */
export function unevenLight({ width, height, depth, inside, counts, apart }: Compared, light: Float32Array, deepest: number): Float32Array {
  const band = Uint8Array.from(depth, (d, i) => Number(counts[i] > 0 && d > 0.5 && d <= deepest + 0.5));
  const off = apart.map((v, i) => v - light[i]);
  const means = meansWithin(off, band, width, height, ABOUT),
    squares = meansWithin(
      off.map((v) => v * v),
      band,
      width,
      height,
      ABOUT,
    );
  const places: { x: number; y: number; more: number }[] = [];
  for (let y = 0; y < height; y += EVERY) {
    for (let x = 0; x < width; x += EVERY) {
      const i = y * width + x;
      if (!band[i]) continue;
      const differ = Math.max(0, squares[i] - means[i] ** 2);
      const doubt = (DOUBT * differ * (1 + differ / DIFFERS) * ALIKE) / (2 * ABOUT);
      places.push({ x, y, more: means[i] ** 3 / (means[i] ** 2 + doubt + 1e-6) });
    }
  }
  if (places.length === 0) return light;
  const raster = { width: Math.ceil(width / EVERY) + 1, height: Math.ceil(height / EVERY) + 1 };
  const carried = new Float32Array(raster.width * raster.height).map((_, n) => {
    const px = EVERY * (n % raster.width),
      py = EVERY * Math.floor(n / raster.width);
    let sum = 0,
      total = 0;
    for (const { x, y, more } of places) {
      const square = (x - px) ** 2 + (y - py) ** 2 + BESIDE ** 2;
      const weight = 1 / (square * Math.sqrt(square));
      sum += weight * more;
      total += weight;
    }
    return sum / total;
  });
  const between = { ...raster, data: carried };
  return light.map((v, i) => (inside[i] ? v + sampleBetween(between, (i % width) / EVERY, Math.floor(i / width) / EVERY) : 0));
}
