import { meansWithin } from '../fill/means';
import type { Links } from './spread';

/** Places round one over which its usual steps of lightness are taken. */
const AROUND = 8;
/** Places over whose means a step is taken, and how many to each side: edges of lenses and scans are soft, and grain is none. */
const MEAN = 1,
  SPAN = 1;
/** Steps of 255 codes that are nothing anywhere, and how many times as high as usual one is an edge. */
const PLAIN = 1.6,
  OUTSTANDING = 1.2;
/** Times the mean from which a step has no say in what is usual. */
const HIGH = 1.7;
/** How soon what stands out is an edge: grain and soft forms pass, edges of a few codes hardly. */
const STEEP = 8;
/** What passes over the strongest edge. */
const LEAST = 1e-5;

/**
 * How readily colour passes between places of a picture: freely where lightness goes on as it does all round, hardly where it steps further. In texture
 * steps are usual, and colour passes; an edge between even things stands out.
 *
 * @param luma 0 to 255, row by row.
 * @param barred 1 where colour shall not pass; none where left out.
 */
export function linksOf(luma: Uint8Array, width: number, height: number, barred?: Uint8Array): Links {
  const size = width * height;
  const all = new Uint8Array(size).fill(1);
  const means = meansWithin(luma, all, width, height, MEAN);
  const steps = new Float32Array(size);
  const right = new Float32Array(size),
    below = new Float32Array(size);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const row = y * width;
      const [left, far] = [Math.max(0, x - SPAN), Math.min(width - 1, x + 1 + SPAN)],
        [top, low] = [Math.max(0, y - SPAN), Math.min(height - 1, y + 1 + SPAN)];
      right[i] = Math.abs(means[row + far] - means[row + left]);
      below[i] = Math.abs(means[low * width + x] - means[top * width + x]);
      steps[i] = (right[i] + below[i]) / 2;
    }
  const mean = meansWithin(steps, all, width, height, AROUND);
  // Without what stands out, or an edge would hide itself.
  const plain = Uint8Array.from(steps, (v, i) => Number(v <= HIGH * mean[i] + PLAIN / 4));
  const usual = meansWithin(steps, plain, width, height, AROUND);
  const across = new Float32Array(size),
    down = new Float32Array(size);
  const passes = (step: number, i: number, j: number): number => {
    if (barred && (barred[i] || barred[j])) return LEAST;
    const high = step / (PLAIN + OUTSTANDING * Math.min(usual[i], usual[j]));
    return Math.max(LEAST, 1 / (1 + high ** STEEP));
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (x < width - 1) across[i] = passes(right[i], i, i + 1);
      if (y < height - 1) down[i] = passes(below[i], i, i + width);
    }
  return { width, height, across, down };
}
