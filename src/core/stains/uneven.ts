import { meansWithin } from '../fill/means';
import type { Compared } from './raster';

/** Pixels along the border that say about the same. */
export const ALIKE = 6;
/** Pixels to all sides of a place of the border that tell together how much stronger the stain is there. */
const ABOUT = 20;
/** How many times its error that is held to be doubtful by; more where comparisons differ, for there the picture does: from this square of logarithms on twice as much. */
const DOUBT = 10,
  DIFFERS = 0.003;
/** Steps of pixels in which the border's places are taken, and how far apart from one a pixel may be for it to count in full. */
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
  return light.map((v, i) => {
    if (!inside[i]) return 0;
    let sum = 0,
      total = 0;
    for (const { x, y, more } of places) {
      const weight = ((x - (i % width)) ** 2 + (y - Math.floor(i / width)) ** 2 + BESIDE ** 2) ** -1.5;
      sum += weight * more;
      total += weight;
    }
    return v + sum / total;
  });
}
