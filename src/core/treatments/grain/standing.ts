import { withBlocks, type BlockGrid } from '../../kernels/standing';
import type { Strength } from '../../networks/steering';
import type { Picture, Plane, Region, StreamInfo } from '../../picture/picture';
import { MOTION } from './align';

/** What is made of a long window. */
export interface Stilled {
  /** As many pictures as work one by one, in order of time; where the picture stands still each is the mean of several. */
  window: Picture[];
  /** What is left of the noise's power in each motion block; none where nothing stands still. */
  levels?: Float32Array;
}

/** The grain that is to be taken off, which tells noise from movement. */
export interface KnownGrain {
  luma: number;
  size: number;
}

/** Most pixels of a frame of which 17, and of which 9 are held at a time. */
const SEVENTEEN = 1e6,
  NINE = 2.5e6;
/** Frames each way that a window may reach at a size: the memory is bounded. */
export const stillReach = ({ width, height }: StreamInfo, wanted: number): number =>
  Math.min(wanted, width * height <= SEVENTEEN ? 8 : width * height <= NINE ? 4 : 2);

/** How many times the expected difference of two frames' grain still counts as grain; more where grains are large, whose means vary more. */
const TOLERATED = 1.25,
  BY_SIZE = 0.3;
/** How many times the power the setting says the least difference may have: a setting that is too small keeps nothing from standing. */
const AS_SAID = 1.6;
/** Codes squared by which still frames differ from rounding alone. */
const ROUNDING = 0.3;
/** How many times the difference that grain explains the means of the frames before and of those after may show; a slow drift shows more. */
const DRIFT = 1.35;

/** The block raster of motion in a plane. */
function gridOf({ info }: Picture, index: number): BlockGrid {
  const sx = index ? info.chromaShiftX : 0,
    sy = index ? info.chromaShiftY : 0;
  const { blockWidth, blockHeight } = MOTION;
  return {
    blockWidth: blockWidth >> sx,
    blockHeight: blockHeight >> sy,
    columns: Math.ceil(info.width / blockWidth),
    rows: Math.ceil(info.height / blockHeight),
  };
}

/**
 * A long window made short: where a block stands still the frames of the whole window are dealt out to the few that the work goes on
 * with, and each becomes their mean, so that noise is less and all else is the same. A block stands still in a frame when it differs
 * from the middle frame no more than the nearest frames do and than grain explains; and all along when the frames before and those
 * after, each averaged, agree as their grain allows.
 *
 * @param window an odd number of whole frames; at a clip's ends frames repeat.
 * @param count odd, how many frames the work goes on with.
 */
export function averageStanding(window: Picture[], count: number, known: KnownGrain): Stilled {
  const middle = (window.length - 1) / 2,
    half = (count - 1) / 2;
  const short = window.slice(middle - half, middle + half + 1);
  const current = window[middle];
  const offsets = window
    .map((_, i) => i - middle)
    .filter((o) => o !== 0 && window[middle + o] !== current && window.indexOf(window[middle + o]) === middle + o)
    .sort((a, b) => Math.abs(a) - Math.abs(b) || a - b);
  if (known.luma === 0 || offsets.length < count) return { window: short };
  const grid = gridOf(current, 0);
  const blocks = grid.columns * grid.rows;
  // A bit for each frame of the window.
  const bit = (o: number): number => 1 << (middle + o);
  const deals = Array.from({ length: count }, (_, g) => new Uint32Array(blocks).fill(bit(g - half)));
  const levels = new Float32Array(blocks).fill(1);
  const planesOf = (index: number): Plane[] => window.map((p) => p.planes[index]);
  const luma = withBlocks(planesOf(0), grid, (work) => {
    const apart = work.differences(
      middle,
      offsets.map((o) => middle + o),
    );
    const { before, after } = standingFrames(apart, offsets, bit, known);
    if (before.every((mask, b) => bitsOf(mask | after[b]) < count)) return undefined;
    const drift = work.differenceOfMeans(before, after);
    let any = false;
    for (let b = 0; b < blocks; b++) {
      const [n, m] = [bitsOf(before[b]), bitsOf(after[b])];
      if (n + m + 1 <= count || drifts(drift[b], n, m, known)) continue;
      any = true;
      levels[b] = count / (n + m + 1);
      deal(deals, b, [0, ...offsets.filter((o) => (before[b] | after[b]) & bit(o))].map(bit), half);
    }
    return any ? deals.map((mask) => work.average(mask)) : undefined;
  });
  if (!luma) return { window: short };
  const chroma = current.planes
    .slice(1)
    .map((_, i) => withBlocks(planesOf(i + 1), gridOf(current, i + 1), (work) => deals.map((mask) => work.average(mask))));
  return { window: short.map((p, g) => ({ ...p, planes: [luma[g], ...chroma.map((planes) => planes[g])] })), levels };
}

/** Power of the difference of two frames that grain and rounding explain. */
const expectedOf = ({ luma }: KnownGrain): number => 2 * luma * luma + ROUNDING;

/** Frames before and after in which each block stands still, a bit each. */
function standingFrames(
  apart: Float32Array[],
  offsets: number[],
  bit: (offset: number) => number,
  known: KnownGrain,
): { before: Uint32Array; after: Uint32Array } {
  const expected = expectedOf(known),
    times = TOLERATED + BY_SIZE * known.size;
  const blocks = apart[0].length;
  const near = offsets.flatMap((o, i) => (Math.abs(o) <= 2 ? [i] : []));
  const before = new Uint32Array(blocks),
    after = new Uint32Array(blocks);
  for (let b = 0; b < blocks; b++) {
    const least = Math.min(...near.map((i) => apart[i][b]));
    if (least > AS_SAID * expected) continue;
    for (const [i, o] of offsets.entries()) {
      if (apart[i][b] > times * Math.max(least, expected / 2)) continue;
      if (o < 0) before[b] |= bit(o);
      else after[b] |= bit(o);
    }
  }
  return { before, after };
}

/** Whether the means of `n` frames before and `m` after differ by more than their grain; with none on one side it cannot be told. */
const drifts = (apart: number, n: number, m: number, known: KnownGrain): boolean =>
  n > 0 && m > 0 && apart > DRIFT * (expectedOf(known) / 2) * (1 / n + 1 / m) + ROUNDING;

const bitsOf = (mask: number): number => {
  let count = 0;
  for (let rest = mask; rest; rest &= rest - 1) count++;
  return count;
};

/** Deals the frames of a block out in turn, the middle one to the middle. */
function deal(deals: Uint32Array[], block: number, bits: number[], half: number): void {
  for (const masks of deals) masks[block] = 0;
  bits.forEach((bit, i) => (deals[(half + i) % deals.length][block] |= bit));
}

/** A strength of noise at each pixel of a part, by what is left of its power in the block. */
export function leveledStrength(strength: Strength, levels: Float32Array, frame: { width: number }, part: Region): Strength {
  if (strength === 0) return strength;
  const columns = Math.ceil(frame.width / MOTION.blockWidth);
  const roots = levels.map(Math.sqrt);
  const values = new Float32Array(part.width * part.height);
  for (let y = 0; y < part.height; y++) {
    const row = Math.floor((part.y + y) / MOTION.blockHeight) * columns;
    for (let x = 0; x < part.width; x++) values[y * part.width + x] = roots[row + Math.floor((part.x + x) / MOTION.blockWidth)];
  }
  if (typeof strength === 'number') return { region: part, values: values.map((v) => v * strength) };
  const { region } = strength;
  const at = (x: number, y: number): number =>
    strength.values[
      Math.min(region.height - 1, Math.max(0, y - region.y)) * region.width + Math.min(region.width - 1, Math.max(0, x - region.x))
    ];
  return {
    region: part,
    values: values.map((v, i) => v * at(part.x + (i % part.width), part.y + Math.floor(i / part.width))),
  };
}

/**
 * How much of the fast choice the result takes at each sample of a part of a plane: more where more frames stand still, for the
 * network was taught on five; rising from block to block.
 */
export function stillShares(levels: Float32Array, { info }: Picture, part: Region, index: number): Float32Array {
  const sx = index ? info.chromaShiftX : 0,
    sy = index ? info.chromaShiftY : 0;
  const { blockWidth, blockHeight } = MOTION;
  const columns = Math.ceil(info.width / blockWidth),
    rows = Math.ceil(info.height / blockHeight);
  const width = (part.width + (1 << sx) - 1) >> sx,
    height = (part.height + (1 << sy) - 1) >> sy;
  const out = new Float32Array(width * height);
  const share = (column: number, row: number): number =>
    1 - levels[Math.min(rows - 1, Math.max(0, row)) * columns + Math.min(columns - 1, Math.max(0, column))];
  for (let y = 0; y < height; y++) {
    const v = (part.y + (y << sy) + 0.5) / blockHeight - 0.5,
      row = Math.floor(v),
      below = v - row;
    for (let x = 0; x < width; x++) {
      const u = (part.x + (x << sx) + 0.5) / blockWidth - 0.5,
        column = Math.floor(u),
        right = u - column;
      const upper = share(column, row) * (1 - right) + share(column + 1, row) * right,
        lower = share(column, row + 1) * (1 - right) + share(column + 1, row + 1) * right;
      out[y * width + x] = upper + below * (lower - upper);
    }
  }
  return out;
}
