import { meansWithin } from '../fill/means';
import type { Border } from './border';
import { signedDepth, smoothed, type Comparable, type Compared, type Surface } from './raster';
import { ALIKE, unevenLight } from './uneven';
import { median } from '../metrics/median';

/** Codes added before logarithms are taken. */
const BLACK = 2;
/** Pixels outside of a stain with which it is compared: not the nearest, which may be of it. */
const OUTSIDE = { from: 0.8, to: 7 };
/** Depths, in pixels, between which a stain is measured apart from its rim, and of which that is the first and last; less in narrow ones. */
const RIM = 3,
  DEEPEST = 8;
/** Half the width of the band of pixels that count as lying at a depth, and the fewest of them that say anything. */
const BAND = 0.75,
  FEWEST = 5;
/** Fewest pixels deep a stain is for its light to be told from its rim's. */
const SHALLOW = 3;
/** How many times its error a light is held to be doubtful by. */
const DOUBT = 2;
/** Share of a stain that has to lie next to where its step is seen; of others all is compared. */
const ENOUGH = 0.3;

/** What a stain has done to the light: logarithms, or of what is lighter than its surroundings, of what is missing to white. */
export interface StainLight {
  lighter: boolean;
  /** For each colour and pixel. */
  logarithms: Float32Array[];
  /** How far what is seen inside follows what lies outside along the border: 1 through glass, 0 of paint; 1 where all is alike outside. */
  follows: number;
}

/**
 * How much darker a stain has made the picture, or lighter, from its border: each pixel near it is compared with the nearest outside, and the middle
 * of all at one depth is taken, for what the picture shows is as often lighter as darker, and what the stain does is the same everywhere. A stain
 * multiplies what was there, as dyes do; what bleaches multiplies what was missing to white. Where light steps the other way along the border, another
 * thing begins there or it was found wrongly: nothing is compared.
 *
 * @param free 1 where the picture is whole.
 * @returns undefined where there is nothing to compare it with.
 */
export function stainLight(surface: Surface, { inside, seen }: Border, free: Uint8Array): StainLight | 'narrow' | undefined {
  const { width, height } = surface;
  const depth = signedDepth(inside, width, height);
  const around = free.map((v, i) => Number(v > 0 && depth[i] < -OUTSIDE.from && depth[i] > -OUTSIDE.to));
  const deepest = depth.reduce((most, d) => Math.max(most, d), 0);
  if (deepest < SHALLOW) return 'narrow';
  if (sum(around) < 2 * FEWEST) return undefined;
  const nearest = nearestOf(around, width, height);
  const compared = (colours: Float32Array[]): { outside: Float32Array[]; apart: Float32Array[] } => {
    const logarithms = colours.map((plane) => plane.map((v) => Math.log(Math.max(0, v) + BLACK)));
    const outside = logarithms.map((plane) => {
      const means = meansWithin(plane, around, width, height, 1);
      return means.map((_, i) => means[nearest[i]]);
    });
    return { outside, apart: logarithms.map((plane, c) => plane.map((v, i) => (inside[i] ? v - outside[c][i] : 0))) };
  };
  const bySeen = inside.map((v, i) => Number(v && seen[nearest[i]] > 0));
  const counts = sum(bySeen) >= ENOUGH * sum(inside) ? bySeen : inside;
  const last = Math.floor(Math.min(DEEPEST, 0.8 * deepest));
  const first = Math.min(RIM, last >> 1);
  const dark = compared(surface.colours);
  const within = placesBetween({ depth, counts: inside }, Math.min(RIM, deepest / 2), DEEPEST + 1);
  const lighter = dark.apart.reduce((sum, apart) => sum + median(within.map((i) => apart[i])), 0) > 0;
  const { apart, outside } = lighter ? compared(surface.colours.map((plane) => plane.map((v) => 255 - v))) : dark;
  const follows = Math.max(...apart.map((plane, c) => correlation(within.map((i) => [plane[i] + outside[c][i], outside[c][i]]))));
  return {
    lighter,
    follows,
    logarithms: apart.map((plane) => lightOf({ depth, inside, counts, apart: plane, width, height }, first, last)),
  };
}

const sum = (mask: Uint8Array): number => mask.reduce((total, v) => total + v, 0);

function placesBetween({ depth, counts }: Comparable, from: number, to: number): number[] {
  const places: number[] = [];
  for (let i = 0; i < depth.length; i++) if (counts[i] && depth[i] > from && depth[i] <= to) places.push(i);
  return places;
}

/** Of one colour: at each depth of the rim what is measured there, deeper the mean of the depths from `first` to `last` that say most. */
function lightOf(compared: Compared, first: number, last: number): Float32Array {
  const { apart } = compared;
  const rim: number[] = [];
  let sum = 0,
    total = 0;
  for (let n = 0; n <= last; n++) {
    const here = placesBetween(compared, n + 0.5 - BAND, n + 0.5 + BAND).map((i) => apart[i]);
    const middle = here.length >= FEWEST ? median(here) : (rim[n - 1] ?? 0);
    rim.push(middle);
    if (n < first || here.length < FEWEST) continue;
    const off = median(here.map((v) => Math.abs(v - middle))) + 0.01;
    // Far from the border the picture differs more, and the same counts less.
    const weight = (here.length / off ** 2) ** 2;
    sum += weight * middle;
    total += weight;
  }
  const measured = total > 0 ? sum / total : rim[rim.length - 1];
  const all = placesBetween(compared, first, last + 0.5);
  const error =
    (1.4 * median(all.map((i) => Math.abs(apart[i] - measured)))) / Math.sqrt(Math.max(1, all.length / ((last - first + 1) * ALIKE)));
  const trust = measured ** 2 / (measured ** 2 + DOUBT * error ** 2 + 1e-9);
  const steps = smoothed(rim);
  const even = compared.depth.map((depth, i) => {
    if (!compared.inside[i]) return 0;
    const at = Math.min(last, Math.max(0, depth - 0.5)),
      below = Math.floor(at);
    const here = steps[below] + (steps[Math.min(last, below + 1)] - steps[below]) * (at - below);
    const deep = Math.min(1, Math.max(0, (depth - first) / Math.max(1, last - first)));
    return trust * (here + deep * (measured - here));
  });
  return unevenLight(compared, even, last);
}

/** Differences of logarithms below which all is alike. */
const ALL_ALIKE = 0.04;

/** Pearson's of pairs; 1 where the second of all are alike. */
function correlation(pairs: number[][]): number {
  const mean = [0, 1].map((k) => pairs.reduce((sum, pair) => sum + pair[k], 0) / pairs.length);
  let [xx, xy, yy] = [0, 0, 0];
  for (const [x, y] of pairs) {
    xx += (x - mean[0]) ** 2;
    xy += (x - mean[0]) * (y - mean[1]);
    yy += (y - mean[1]) ** 2;
  }
  return Math.sqrt(yy / pairs.length) < ALL_ALIKE ? 1 : xy / Math.sqrt(xx * yy + 1e-12);
}

/** For each pixel the place of the nearest that counts, about (by steps to neighbours, Danielsson, 1980). */
function nearestOf(counts: Uint8Array, width: number, height: number): Int32Array {
  const nearest = Int32Array.from(counts, (v, i) => (v ? i : -1));
  const far = (i: number, place: number): number =>
    place < 0 ? Infinity : ((i % width) - (place % width)) ** 2 + (Math.floor(i / width) - Math.floor(place / width)) ** 2;
  const ask = (i: number, other: number): void => {
    if (far(i, nearest[other]) < far(i, nearest[i])) nearest[i] = nearest[other];
  };
  const pass = (step: 1 | -1): void => {
    for (let row = 0; row < height; row++) {
      const y = step > 0 ? row : height - 1 - row;
      const before = y - step >= 0 && y - step < height;
      for (const way of [step, -step]) {
        for (let n = 0; n < width; n++) {
          const x = way > 0 ? n : width - 1 - n,
            i = y * width + x;
          if (counts[i]) continue;
          if (x - way >= 0 && x - way < width) ask(i, i - way);
          if (!before) continue;
          ask(i, i - step * width);
          if (x - way >= 0 && x - way < width) ask(i, i - step * width - way);
          if (x + way >= 0 && x + way < width) ask(i, i - step * width + way);
        }
      }
    }
  };
  pass(1);
  pass(-1);
  return nearest;
}

/** A colour, 0 to 255, without what a stain did to it: `logarithm` of its light. */
export const withoutStain = (v: number, logarithm: number, lighter: boolean): number => {
  const [seen, back] = lighter ? [255 - v, (made: number) => 255 - made] : [v, (made: number) => made];
  return Math.min(255, Math.max(0, back((seen + BLACK) * Math.exp(-logarithm) - BLACK)));
};
