import { CLASSES } from './classes';
import type { Gathered } from './guess';
import type { Tones } from './tones';

/** Classes of colour are put together by so many either way: what a place is, rather than which shade it may have. */
const MERGED = 2;
const merged = CLASSES.map(({ cb, cr }) => [cb, cr].map((v) => Math.round(v / 12 / MERGED)).join());
const names = [...new Set(merged)];
const at = merged.map((name) => names.indexOf(name));

/** Figures that say what a place is: what the network takes it for, then its lightness by rank, texture, and how high and how far across it lies. */
export const THING_FIGURES = names.length + 4;
/** Figures of a place that do not tell where it lies: all but the last two. */
export const PLACELESS = THING_FIGURES - 2;

/** What counts in a likeness, against what the network thinks: lightness by rank, texture, how high and how far across a place lies. */
const LIGHT = 0.7,
  TEXTURE = 0.35,
  HIGH = 0.3,
  ACROSS = 0.1;
/** What a figure of 1 is kept as. */
const UNIT = 255;

/** What the places of a picture are, so that like ones are found in others. */
export interface Things {
  width: number;
  height: number;
  /** `THING_FIGURES` of each place, one place after the other. */
  figures: Uint8Array;
}

export function thingsOf(tones: Tones, { width, height, likely }: Gathered): Things {
  const ranks = ranksOf(tones.luma);
  const figures = new Uint8Array(width * height * THING_FIGURES);
  const taken = new Float32Array(names.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x,
        to = i * THING_FIGURES;
      taken.fill(0);
      for (let k = 0; k < CLASSES.length; k++) taken[at[k]] += likely[i * CLASSES.length + k];
      const part = { left: x / width, right: (x + 1) / width, top: y / height, bottom: (y + 1) / height };
      const { mean, deviation } = within(tones, ranks, part);
      // Of square roots the distance is Hellinger's.
      const own = [
        ...taken.map(Math.sqrt),
        LIGHT * mean,
        (TEXTURE * Math.log2(1 + deviation)) / 6,
        (HIGH * y) / height,
        (ACROSS * x) / width,
      ];
      own.forEach((v, k) => (figures[to + k] = Math.min(255, Math.round(UNIT * v))));
    }
  return { width, height, figures };
}

/** What may be at places twice as large. */
export function halvedGathered({ width, height, likely }: Gathered): Gathered {
  const w = Math.ceil(width / 2),
    h = Math.ceil(height / 2);
  const made = { width: w, height: h, likely: new Float32Array(w * h * CLASSES.length) };
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const to = (y * w + x) * CLASSES.length;
      for (const v of [2 * y, Math.min(height - 1, 2 * y + 1)])
        for (const u of [2 * x, Math.min(width - 1, 2 * x + 1)])
          for (let k = 0; k < CLASSES.length; k++) made.likely[to + k] += likely[(v * width + u) * CLASSES.length + k] / 4;
    }
  return made;
}

/** How unlike two places are, squared; of `most` and beyond it is only told that it is so. @param count of the figures that are compared. */
export function unlike(one: Uint8Array, i: number, other: Uint8Array, j: number, most = Infinity, count = THING_FIGURES): number {
  const limit = most * UNIT * UNIT;
  let apart = 0;
  for (let k = 0; k < count && apart < limit; k++) {
    const off = one[i * THING_FIGURES + k] - other[j * THING_FIGURES + k];
    apart += off * off;
  }
  return apart / (UNIT * UNIT);
}

/** For each code of lightness the share of the picture that is darker. */
function ranksOf(luma: Uint8Array): Float32Array {
  const counts = new Float32Array(256);
  for (const v of luma) counts[v] += 1 / luma.length;
  let below = 0;
  return counts.map((share) => {
    const rank = below + share / 2;
    below += share;
    return rank;
  });
}

/** Mean rank of a part of a picture, its sides in fractions of it, and how far its lightness deviates. */
function within({ luma, width, height }: Tones, ranks: Float32Array, part: { left: number; right: number; top: number; bottom: number }) {
  const [left, top] = [Math.floor(part.left * width), Math.floor(part.top * height)];
  const right = Math.max(left + 1, Math.floor(part.right * width)),
    bottom = Math.max(top + 1, Math.floor(part.bottom * height));
  let mean = 0,
    sum = 0,
    squares = 0;
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const v = luma[y * width + x];
      mean += ranks[v];
      sum += v;
      squares += v * v;
    }
  const count = (right - left) * (bottom - top);
  return { mean: mean / count, deviation: Math.sqrt(Math.max(0, squares / count - (sum / count) ** 2)) };
}
