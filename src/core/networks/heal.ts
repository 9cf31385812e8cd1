import { CANDIDATES, fillCandidates, SHOWN, smoothOf } from '../fill/candidates';
import type { Hole } from '../fill/hole';
import { grained } from '../fill/grain';
import { deepened, seenThrough } from '../fill/stain';
import { SCALE } from '../kernels/fold';
import { network } from './model';

/** Of each way the luma, and the mask. */
const CHANNELS = 4 * (CANDIDATES + 1);
/** Sides are made multiples of this. */
const GRID = 8;
/** Inputs are differences so many times over; the correction is a quarter of full scale: as in training/tasks.py. */
const APART = 4,
  CORRECTION = 0.25;

/**
 * Fills a hole that is not wide: a network of ours weighs, pixel by pixel, what the ways to fill it give.
 *
 * @param seeThrough whether what shows in the hole may be of the picture: not where something else lay there.
 * @returns planes with the missing pixels filled, all others as they were.
 * @throws NetworkError when the network cannot be used.
 */
export async function healHole(hole: Hole, seeThrough: boolean): Promise<Uint16Array[]> {
  const net = await network('heal');
  const { width, height, planes, missing } = hole;
  // The sides the network takes; edges repeat.
  const [wide, high] = [width, height].map((side) => Math.ceil(side / GRID) * GRID);
  const quarter = (wide * high) / 4,
    half = wide / 2;
  const { ways, from } = fillCandidates(hole, seeThrough);
  const input = new Float32Array(CHANNELS * quarter);
  const lumas = ways.map(([luma]) => luma);
  const placeOf = (x: number, y: number): number => (((y & 1) << 1) | (x & 1)) * quarter + (y >> 1) * half + (x >> 1);
  for (let y = 0; y < high; y++) {
    for (let x = 0; x < wide; x++) {
      const i = Math.min(height - 1, y) * width + Math.min(width - 1, x),
        at = placeOf(x, y);
      input[at] = lumas[0][i] * SCALE - 0.5;
      for (let n = 1; n < CANDIDATES; n++) input[4 * n * quarter + at] = APART * SCALE * (lumas[n][i] - lumas[0][i]);
      input[4 * CANDIDATES * quarter + at] = missing[i];
    }
  }
  const answer = await net.run(input, CHANNELS, high / 2, half);
  const made: Uint16Array[] = planes.map((p) => p.slice());
  const weights = new Float32Array(CANDIDATES);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!missing[i]) continue;
      const at = placeOf(x, y);
      const weigh = (without?: number): void => {
        let highest = -Infinity;
        for (let n = 0; n < CANDIDATES; n++) if (n !== without) highest = Math.max(highest, answer[4 * n * quarter + at]);
        for (let n = 0; n < CANDIDATES; n++) weights[n] = n === without ? 0 : Math.exp(answer[4 * n * quarter + at] - highest);
      };
      weigh();
      const correction = (CORRECTION * answer[4 * CANDIDATES * quarter + at]) / SCALE;
      made[0][i] = held(mean(0, i) + correction);
      // Stains have their own colour: as it is, it says nothing of the picture's.
      if (planes.length > 1) weigh(SHOWN);
      for (let p = 1; p < planes.length; p++) made[p][i] = held(mean(p, i));
    }
  }
  made[0] = grained(hole, made[0], from);
  const through = seeThrough ? seenThrough(hole, () => smoothOf(hole), DEEP.from) : undefined;
  return through ? deepened(made, through, DEEP.from, DEEP.to) : made;

  function mean(p: number, i: number): number {
    let sum = 0,
      total = 0;
    for (let n = 0; n < CANDIDATES; n++) {
      sum += weights[n] * ways[n][p][i];
      total += weights[n];
    }
    return sum / total;
  }
}

/** Depths, in pixels, between which what shows through a stain takes over: the network was not taught what is wider. */
const DEEP = { from: 10, to: 16 };

const held = (v: number): number => Math.min(65535, Math.max(0, Math.round(v)));
