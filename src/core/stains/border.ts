import { dilated } from '../fill/hole';
import { meansWithin } from '../fill/means';
import { sampleBetween } from '../picture/between';
import { signedDepth, smoothed, type Surface } from './raster';
import { median } from '../metrics/median';

/** Pixels by which a stain may have been found too wide or too narrow. */
export const MISPLACED = 8;
/** Pixels to both sides of a line between which light is compared. */
const APART = 1.5;
/** Half the width of the band of pixels that count as lying at a depth. */
const BAND = 0.75;
/** Pixels along the border over which its place is told together, and then smoothed. */
const TOGETHER = 14,
  SMOOTH = 5;
/** Times the step of all of the border that one place counts for at most: edges of the picture are stronger than those of stains. */
const STRONGEST = 2;
/** Share of the step that a place MISPLACED pixels off from the others has to be stronger by; and of the first guess, where it was found. */
const REASON = 1,
  FOUND = 0.2;
/** Codes added before logarithms are taken, so that black has one. */
const BLACK = 4;
/** Fewest pixels at a depth for it to say anything. */
const FEWEST = 6;

/** Where a stain is. */
export interface Border {
  /** 1 inside. */
  inside: Uint8Array;
  /** For each pixel near the border: the share of the border's common step that is seen next to it. */
  seen: Float32Array;
}

/**
 * Moves the border of a stain to where the picture shows it. Along it light falls or rises by about the same step everywhere, whatever the picture
 * shows there: first the depth is found at which the middle of all steps is largest, then for each place the depth near it where most of that step is.
 *
 * @param found 1 where the stain was found.
 */
export function movedBorder({ width, height, colours }: Surface, found: Uint8Array): Border {
  const depth = signedDepth(found, width, height);
  const even = meansWithin(depth, undefined, width, height, 3);
  const lights = colours.map((plane) => meansWithin(plane, undefined, width, height, 1).map((v) => Math.log(Math.max(0, v) + BLACK)));
  const places: number[] = [];
  for (let i = 0; i < even.length; i++) if (Math.abs(even[i]) <= MISPLACED + BAND) places.push(i);
  const steps = lights.map(() => new Float32Array(depth.length));
  for (const i of places) {
    const x = i % width,
      y = Math.floor(i / width);
    const gx = even[y * width + Math.min(width - 1, x + 1)] - even[y * width + Math.max(0, x - 1)],
      gy = even[Math.min(height - 1, y + 1) * width + x] - even[Math.max(0, y - 1) * width + x];
    const length = Math.hypot(gx, gy) + 1e-4;
    const dx = (APART * gx) / length,
      dy = (APART * gy) / length;
    lights.forEach((data, c) => {
      const raster = { width, height, data };
      steps[c][i] = sampleBetween(raster, x + dx, y + dy) - sampleBetween(raster, x - dx, y - dy);
    });
  }
  const levels = Array.from({ length: 2 * MISPLACED + 1 }, (_, n) => n - MISPLACED);
  const common = stepsAt(levels, places, even, steps);
  const sizes = levels.map((level, n) => Math.hypot(...common.map((c) => c[n])) * (1 - (FOUND * Math.abs(level)) / MISPLACED));
  // A step that only begins where it is looked for last is another thing's.
  const peaks = sizes.map((v, n) => (v > 0 && v >= (sizes[n - 1] ?? Infinity) && v >= (sizes[n + 1] ?? Infinity) ? v : 0));
  const best = peaks.indexOf(Math.max(...peaks));
  if (peaks[best] === 0) return { inside: found, seen: new Float32Array(found.length).fill(1) };
  const size = Math.hypot(...common.map((c) => c[best]));
  const along = common.map((c) => c[best] / size);
  const strength = new Float32Array(depth.length);
  for (const i of places) {
    const v = steps.reduce((sum, step, c) => sum + along[c] * step[i], 0);
    strength[i] = Math.min(STRONGEST * size, Math.max(-STRONGEST * size, v));
  }
  const moved = new Float32Array(depth.length),
    highest = new Float32Array(depth.length).fill(-Infinity),
    seen = new Float32Array(depth.length);
  for (const level of levels) {
    const band = new Uint8Array(depth.length);
    for (const i of places) if (Math.abs(even[i] - level) <= BAND) band[i] = 1;
    const means = meansWithin(strength, band, width, height, TOGETHER);
    const price = (REASON * size * Math.abs(level - levels[best])) / MISPLACED;
    for (const i of places) {
      if (means[i] - price <= highest[i]) continue;
      highest[i] = means[i] - price;
      moved[i] = level;
      seen[i] = means[i] / size;
    }
  }
  const near = new Uint8Array(depth.length);
  for (const i of places) near[i] = 1;
  const line = meansWithin(moved, near, width, height, SMOOTH);
  const inside = Uint8Array.from(depth, (d, i) => Number(d > (near[i] ? line[i] : 0)));
  const about = meansWithin(seen, near, width, height, SMOOTH);
  return {
    seen: seen.map((v, i) => (near[i] ? v : about[i])),
    inside: opened(inside, width, height).map((v, i) => v | Number(depth[i] > MISPLACED + 1)),
  };
}

/** Pixels across of a stain that is looked at as it is to find its border; of larger ones at a half or a quarter of the size first. */
const SMALL = 20,
  COARSEST = 4;

/** As `movedBorder`, for a stain that was painted over: its border may lie further off, the larger it is. */
export function foundBorder(surface: Surface, painted: Uint8Array): Border {
  const across = Math.sqrt(painted.reduce((sum, v) => sum + v, 0));
  let inside = painted;
  for (let factor = COARSEST; factor > 1; factor /= 2) {
    if (across < SMALL * factor) continue;
    const { width, height } = surface;
    const w = Math.floor(width / factor),
      h = Math.floor(height / factor);
    const reduced = (plane: ArrayLike<number>): Float32Array =>
      new Float32Array(w * h).map((_, i) => {
        let sum = 0;
        const from = factor * (Math.floor(i / w) * width + (i % w));
        for (let y = 0; y < factor; y++) for (let x = 0; x < factor; x++) sum += plane[from + y * width + x];
        return sum / factor ** 2;
      });
    const { inside: coarse } = movedBorder(
      { width: w, height: h, colours: surface.colours.map(reduced) },
      Uint8Array.from(reduced(inside), (v) => Number(v >= 0.5)),
    );
    inside = inside.map((_, i) => {
      const x = Math.min(w - 1, Math.floor((i % width) / factor)),
        y = Math.min(h - 1, Math.floor(Math.floor(i / width) / factor));
      return coarse[y * w + x];
    });
  }
  return movedBorder(surface, inside);
}

/** The middle step of each colour at each depth. */
function stepsAt(levels: number[], places: number[], depth: Float32Array, steps: Float32Array[]): number[][] {
  return steps.map((step) =>
    smoothed(
      levels.map((level) => {
        const here = places.filter((i) => Math.abs(depth[i] - level) <= BAND);
        return here.length < FEWEST ? 0 : median(here.map((i) => step[i]));
      }),
    ),
  );
}

/** A shape without what is thinner than three pixels. */
function opened(mask: Uint8Array, width: number, height: number): Uint8Array {
  const rest = dilated(
    mask.map((v) => 1 - v),
    width,
    height,
    1,
  ).map((v) => 1 - v);
  return dilated(rest, width, height, 1);
}
