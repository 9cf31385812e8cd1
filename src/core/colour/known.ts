import { CLASSES, type Chroma } from './classes';
import type { Gathered } from './guess';

/** What is known of a place by what it belongs to: mean chroma in codes of 255, and its deviation. */
export interface KnownColour extends Chroma {
  deviation: number;
}

/** Likelihoods of a picture's colours, and how far each place is known by other means than the network's. */
export interface Telling {
  /** 0 to 1. */
  known: Float32Array;
  /** Weighs the likelihoods of a place by what is known of it, where that is more than was told before. @param share how far, 0 to 1. */
  tell(place: number, share: number, odds: Odds): void;
}

/** How light the places of the coarse raster are, 0 to 255. */
export interface Lightness {
  width: number;
  height: number;
  luma: Float32Array;
}

/** Natural logarithm of how likely each class is, but for a constant. */
export type Odds = Float64Array;

export const oddsOf = ({ cb, cr, deviation }: KnownColour): Odds =>
  Float64Array.from(CLASSES, (c) => -((c.cb - cb) ** 2 + (c.cr - cr) ** 2) / (2 * deviation ** 2));

/** Likelihoods to be weighed in place; they still add up to 1. */
export function tellingOf({ width, height, likely }: Gathered): Telling {
  const known = new Float32Array(width * height);
  return {
    known,
    tell(place, share, odds) {
      const more = share - known[place];
      if (more <= 0) return;
      known[place] = share;
      const here = likely.subarray(place * CLASSES.length, (place + 1) * CLASSES.length);
      let all = 0;
      for (let k = 0; k < here.length; k++) all += here[k] *= Math.exp(more * odds[k]);
      for (let k = 0; k < here.length; k++) here[k] /= all;
    },
  };
}
