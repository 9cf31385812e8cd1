import { SIGMA_UNIT, type Plane } from '../picture/picture';

/** Codes of 255 by which a sample must stand out from both of its neighbours in the column to be a spike. */
const SPIKE = 16;

/**
 * Pixels of a frame that lie in a comb: a spike up beside a spike down, three in a run down a column. Lines of two moments woven
 * together leave them; so does very fine texture, hence counts are compared with the truth's or another method's.
 */
export function combPixels({ width, height, data }: Plane): number {
  const least = SPIKE * SIGMA_UNIT;
  let count = 0;
  for (let x = 0; x < width; x++) {
    let run = 0,
      before = 0;
    for (let y = 1; y + 1 < height; y++) {
      const i = y * width + x;
      const above = data[i] - data[i - width],
        below = data[i] - data[i + width];
      const way = above > least && below > least ? 1 : above < -least && below < -least ? -1 : 0;
      run = way === 0 ? 0 : way === -before ? run + 1 : 1;
      before = way;
      if (run === 3) count += 3;
      else if (run > 3) count++;
    }
  }
  return count;
}

/** How far the truth may stand out and still show no spike, in codes of 255. */
const LEVEL = 8;

/**
 * Pixels of a frame that stand out from both of their neighbours in the column where the truth does not stand out that way: dashes and
 * specks of another moment, which a line that was filled from the wrong place leaves.
 */
export function strayPixels({ width, height, data }: Plane, truth: Plane): number {
  const least = SPIKE * SIGMA_UNIT,
    level = LEVEL * SIGMA_UNIT;
  let count = 0;
  for (let i = width; i < (height - 1) * width; i++) {
    const above = data[i] - data[i - width],
      below = data[i] - data[i + width];
    const way = above > least && below > least ? 1 : above < -least && below < -least ? -1 : 0;
    if (way === 0) continue;
    const real = Math.min(way * (truth.data[i] - truth.data[i - width]), way * (truth.data[i] - truth.data[i + width]));
    if (real < level) count++;
  }
  return count;
}
