import { searchPatches, votePatches } from '../kernels/patches';
import { HALF, scrambled } from '../kernels/reference/patches';
import { smoothFill } from './guess';
import { depths, dilated, halvedHole, type Hole } from './hole';
import { meansWithin } from './means';

export interface FillOptions {
  /** Another seed finds another answer where several are as good. */
  seed: number;
  /** Pixels from which copies may come, counted from the hole; all of the window when left out. */
  reach?: number;
  /** Whether rough parts are told from smooth ones while large forms are filled; true when left out. */
  texture?: boolean;
}

/** Depth, in pixels, up to which a hole is filled at one size: what surrounds it says enough. */
const SHALLOW = 3;
/** The coarsest raster has this many pixels a side at least. */
const LEAST_SIDE = 24;
/** Search and vote so many times at the coarsest of several sizes, less at each finer one, and at least this often; at the only one. */
const ROUNDS = { first: 10, last: 3, alone: 4 };
/** Passes of the search each time. */
const PASSES = 3;
/** Where patches differ by less than this many codes of 255 a sample they count as alike. */
const ALIKE = 1.5;
/** Pixels of the rim over which light is compared. */
const RIM = 3;

/**
 * Fills what is missing with what its surroundings have, coarse to fine: large forms first, texture after (Wexler, Shechtman and Irani, 2007,
 * with the search of Barnes et al., 2009, begun from the border inwards as of Newson et al., 2014), then with the light of the
 * rim.
 *
 * @returns planes in which the missing pixels are filled and all others are as they were. Where nothing can be copied, they are filled
 *   smoothly.
 */
export const fillHole = (hole: Hole, options: FillOptions): Uint16Array[] => fillFrom(hole, options).planes;

/** A hole filled with copies. */
export interface Copied {
  planes: Uint16Array[];
  /** The place that each missing pixel looks most like; -1 where there is none. */
  from: Int32Array;
}

/** As `fillHole`, and where from. */
export function fillFrom(hole: Hole, options: FillOptions): Copied {
  const { width, height, missing } = hole;
  const nowhere = (planes: Uint16Array[]): Copied => ({ planes, from: new Int32Array(missing.length).fill(-1) });
  if (!missing.includes(1)) return nowhere(hole.planes);
  const deepest = depths(missing, width, height).reduce((most, d) => Math.max(most, d), 0) / 3;
  const levels: Hole[] = [hole];
  for (let depth = deepest; depth > SHALLOW; depth /= 2) {
    const last = levels.length === 1 && options.texture !== false ? withTexture(hole, deepest) : levels[levels.length - 1];
    if (Math.min(last.width, last.height) < 2 * LEAST_SIDE) break;
    const next = halvedHole(last);
    if (!next.missing.includes(1)) break;
    levels.push(next);
  }
  let work: Work | undefined;
  for (let n = levels.length - 1; n >= 0; n--) {
    const coarser: Work | undefined = work;
    work = begin(levels[n], options);
    if (work.targets.length === 0 || work.sources.length === 0) return nowhere(smooth(hole));
    if (coarser) take(work, coarser);
    else fromBorder(work);
    const rounds = levels.length === 1 ? ROUNDS.alone : Math.max(ROUNDS.last, ROUNDS.first - 2 * (levels.length - 1 - n));
    for (let round = 0; round < rounds; round++) {
      seek(work, PASSES, round);
      reconstruct(work, round === rounds - 1 && n === 0);
    }
  }
  return work ? { planes: relit(work), from: work.matches } : nowhere(smooth(hole));
}

/** How much a difference of texture counts against one of lightness. */
const TEXTURE = 4;

/**
 * A hole with two planes more: how strong its texture is, sideways and downwards. Where it is halved, fine texture is lost, and smooth parts
 * would be taken for rough ones (Newson et al., 2014, section 3.2).
 */
function withTexture(hole: Hole, deepest: number): Hole {
  const { width, height, planes, missing } = hole;
  const [luma] = planes;
  const radius = Math.max(2, Math.min(12, Math.round(deepest / 4)));
  const strengths = [1, width].map((step) => {
    const steps = new Float32Array(width * height),
      there = new Uint8Array(width * height);
    for (let y = 0; y < height - 1; y++) {
      for (let x = 0; x < width - 1; x++) {
        const i = y * width + x;
        if (missing[i] || missing[i + step]) continue;
        there[i] = 1;
        steps[i] = Math.abs(luma[i + step] - luma[i]);
      }
    }
    return new Uint16Array(meansWithin(steps, there, width, height, radius).map((v) => Math.min(65535, TEXTURE * v)));
  });
  return { ...hole, planes: [...planes, ...strengths] };
}

/** One size of a hole being filled. */
interface Work {
  hole: Hole;
  options: FillOptions;
  /** Middles of the patches that reach into the hole, and of those that may be copied. */
  targets: Int32Array;
  sources: Int32Array;
  usable: Uint8Array;
  matches: Int32Array;
  distances: Int32Array;
  /** 255 where a pixel is known or filled. */
  trust: Uint8Array;
  /** The missing pixels, and the rim by which light is compared. */
  wanted: Uint8Array;
  /** The picture so far; `coarse` has its upper eight bits. */
  filled: Uint16Array[];
  coarse: Uint8Array[];
}

function begin(hole: Hole, options: FillOptions): Work {
  const { width, height, planes, missing, avoided } = hole;
  const near = dilated(missing, width, height, HALF);
  const spoilt = avoided
    ? dilated(
        missing.map((m, i) => m | avoided[i]),
        width,
        height,
        HALF,
      )
    : near;
  const within = options.reach === undefined ? undefined : dilated(missing, width, height, options.reach);
  const targets = new Int32Array(width * height),
    sources = new Int32Array(width * height);
  let wanting = 0,
    giving = 0;
  const usable = new Uint8Array(width * height);
  for (let y = HALF; y < height - HALF; y++) {
    for (let x = HALF; x < width - HALF; x++) {
      const i = y * width + x;
      if (near[i]) targets[wanting++] = i;
      if (spoilt[i] || (within && !within[i])) continue;
      sources[giving++] = i;
      usable[i] = 1;
    }
  }
  const rim = dilated(missing, width, height, RIM);
  return {
    ...{ hole, options, usable },
    targets: targets.slice(0, wanting),
    sources: sources.slice(0, giving),
    matches: new Int32Array(width * height).fill(-1),
    distances: new Int32Array(width * height),
    trust: missing.map((m) => (m ? 0 : 255)),
    wanted: rim,
    filled: planes.map((p) => p.slice()),
    coarse: planes.map(upperBytes),
  };
}

function upperBytes(plane: Uint16Array): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(plane.length);
  for (let i = 0; i < out.length; i++) out[i] = plane[i] >> 8;
  return out;
}

/** A place to begin with for targets without one. */
function cast({ targets, sources, matches, options }: Work): void {
  for (const t of targets) if (matches[t] < 0) matches[t] = sources[scrambled(t ^ scrambled(options.seed)) % sources.length];
}

function seek(work: Work, rounds: number, salt: number, targets = work.targets): void {
  const { hole, usable, trust, coarse, matches, distances, options } = work;
  const { width, height } = hole;
  const reach = Math.max(width, height) >> 1;
  searchPatches({
    ...{ width, height, planes: coarse, trust, usable, targets, rounds, reach, matches, distances },
    seed: scrambled(options.seed + 7919 * salt) | 0,
  });
}

/** Begins at the border of the hole and works inwards, each layer going by what is there already. */
function fromBorder(work: Work): void {
  const { hole, trust, targets } = work;
  const { width, height, missing } = hole;
  const depth = depths(missing, width, height);
  cast(work);
  const deepest = depth.reduce((most, d) => Math.max(most, d), 0);
  for (let layer = 1; 3 * (layer - 1) < deepest; layer++) {
    const low = 3 * (layer - 1),
      high = 3 * layer;
    const now = new Uint8Array(missing.length);
    for (let i = 0; i < now.length; i++) if (depth[i] > low && depth[i] <= high) now[i] = 1;
    const band = dilated(now, width, height, HALF);
    const seekers = targets.filter((t) => band[t] && depth[t] <= high);
    seek(work, 4, layer, seekers);
    put(work, votePatches({ ...voteOf(work), targets: seekers, weights: weightsOf(work, seekers, false), wanted: now }));
    for (let i = 0; i < now.length; i++) if (now[i]) trust[i] = 255;
  }
  trust.fill(255);
}

/** Takes over the answers of half the size, moved along. */
function take(work: Work, from: Work): void {
  const { width, height } = work.hole;
  const half = from.hole.width,
    lines = from.hole.height;
  for (const t of work.targets) {
    const x = Math.min(half - 1, (t % width) >> 1),
      y = Math.min(lines - 1, Math.floor(t / width) >> 1);
    const match = from.matches[y * half + x];
    if (match < 0) continue;
    const tx = 2 * (match % half) + ((t % width) & 1),
      ty = 2 * Math.floor(match / half) + (Math.floor(t / width) & 1);
    if (tx >= width || ty >= height) continue;
    const place = ty * width + tx;
    if (work.usable[place]) work.matches[t] = place;
  }
  // What has no answer of its own begins with a neighbour's, or anywhere.
  for (const t of work.targets) {
    if (work.matches[t] >= 0) continue;
    for (const step of [-1, 1, -width, width]) {
      const place = work.matches[t + step] - step;
      if (work.matches[t + step] >= 0 && place >= 0 && work.usable[place]) {
        work.matches[t] = place;
        break;
      }
    }
  }
  cast(work);
  work.trust.fill(255);
  put(work, votePatches({ ...voteOf(work), weights: new Float32Array(work.targets.length).fill(1) }));
}

const voteOf = ({ hole, matches, targets, wanted }: Work) => ({
  width: hole.width,
  height: hole.height,
  planes: hole.planes,
  ...{ matches, targets, wanted },
});

/** How much each target's answer counts; at last the best rule, so that texture is not averaged away. */
function weightsOf({ hole, distances, trust }: Work, targets: Int32Array, last: boolean): Float32Array {
  const samples = hole.planes.length * (2 * HALF + 1) ** 2;
  const sorted = targets.map((t) => distances[t]).sort();
  const typical = Math.max(samples * ALIKE ** 2, sorted[Math.floor(0.75 * (sorted.length - 1))] ?? 0);
  const spread = last ? 0.15 * typical : typical;
  // Nothing at all is known at the middle of the first layers' patches: such answers count less.
  const weights = new Float32Array(targets.length);
  for (let i = 0; i < targets.length; i++) {
    const t = targets[i];
    weights[i] = Math.exp(-Math.min(60, distances[t] / (2 * spread))) * (trust[t] ? 1 : 0.5) + 1e-9;
  }
  return weights;
}

/** Writes what the vote says at the missing pixels. */
function put({ hole, filled, coarse }: Work, sums: Float32Array[]): void {
  const weights = sums[sums.length - 1];
  for (let i = 0; i < weights.length; i++) {
    if (!hole.missing[i] || weights[i] <= 0) continue;
    for (let p = 0; p < filled.length; p++) {
      const v = Math.round(sums[p][i] / weights[i]);
      filled[p][i] = v;
      coarse[p][i] = v >> 8;
    }
  }
}

function reconstruct(work: Work, last: boolean): void {
  put(work, votePatches({ ...voteOf(work), weights: weightsOf(work, work.targets, last) }));
}

/** The filled pixels in the light of the rim: by how much the copies miss it there, carried smoothly into the hole. */
function relit(work: Work): Uint16Array[] {
  const { hole, filled, wanted, targets } = work;
  const { width, height, missing, planes, avoided } = hole;
  const sums = votePatches({ ...voteOf(work), weights: weightsOf(work, targets, true) });
  const weights = sums[planes.length];
  const known = new Float32Array(width * height),
    off = planes.map(() => new Float32Array(width * height));
  for (let i = 0; i < known.length; i++) {
    if (missing[i] || !wanted[i] || weights[i] <= 0 || avoided?.[i]) continue;
    // Single pixels say little of the light; many together rule it.
    known[i] = 0.2;
    planes.forEach((plane, p) => (off[p][i] = plane[i] - sums[p][i] / weights[i]));
  }
  const light = smoothFill(off, known, width, height, missing);
  return filled.map((plane, p) => {
    const out = plane.slice();
    for (let i = 0; i < out.length; i++) if (missing[i]) out[i] = Math.min(65535, Math.max(0, Math.round(plane[i] + light[p][i])));
    return out;
  });
}

/** Filled without copying, for want of anything to copy. */
function smooth({ width, height, planes, missing }: Hole): Uint16Array[] {
  const known = new Float32Array(missing).map((m) => 1 - m);
  const made = smoothFill(
    planes.map((p) => new Float32Array(p)),
    known,
    width,
    height,
  );
  return planes.map((plane, p) => plane.map((v, i) => (missing[i] ? Math.round(made[p][i]) : v)));
}
