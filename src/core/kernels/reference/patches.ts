/**
 * Patches that look alike, found by neighbours' answers and chance (Barnes et al., PatchMatch, 2009), and the vote of overlapping
 * patches on what a pixel should be (Wexler, Shechtman and Irani, Space-Time Completion of Video, 2007). The plain form of
 * `../assembly/patches.ts`: the search gives the same answers to the last, the vote the same but for rounding.
 */

/** Pixels from a patch's middle to its border; patches are 7 x 7. */
export const HALF = 3;

/** What is searched. Places are indices of a raster of `width` x `height`. */
export interface PatchSearch {
  width: number;
  height: number;
  /** Samples to compare by, 0 to 255. */
  planes: Uint8Array[];
  /** 255 where a target's pixel counts, 0 where it does not. */
  trust: Uint8Array;
  /** 1 at the middles of patches that may be taken; all of their pixels lie inside the raster. */
  usable: Uint8Array;
  /** Middles of the patches that seek, from the top, with all of their pixels inside the raster. */
  targets: Int32Array;
  rounds: number;
  seed: number;
  /** Pixels that the widest random try may lie away. */
  reach: number;
  /** The answer of each target so far, a usable place; -1 at all other places. Is changed. */
  matches: Int32Array;
  /** How far target and answer differ: the sum of squares. Is changed. */
  distances: Int32Array;
}

export function scrambled(value: number): number {
  let v = value >>> 0;
  v = Math.imul(v ^ (v >>> 16), 0x7feb352d) >>> 0;
  v = Math.imul(v ^ (v >>> 15), 0x846ca68b) >>> 0;
  return (v ^ (v >>> 16)) >>> 0;
}

function distance({ planes, trust, width }: PatchSearch, a: number, b: number): number {
  let total = 0;
  for (const plane of planes) {
    for (let row = -HALF; row <= HALF; row++) {
      for (let column = -HALF; column <= HALF; column++) {
        const o = row * width + column;
        if (trust[a + o]) total += (plane[a + o] - plane[b + o]) ** 2;
      }
    }
  }
  return total;
}

/** Improves `matches` and `distances`. */
export function searchPatches(search: PatchSearch): void {
  const { width, height, usable, targets, rounds, seed, reach, matches, distances } = search;
  for (const t of targets) distances[t] = distance(search, t, matches[t]);
  for (let round = 0; round < rounds; round++) {
    const back = round % 2 === 1;
    const step = back ? 1 : -1;
    for (const t of back ? [...targets].reverse() : targets) {
      const attempt = (tried: number): void => {
        if (tried < 0 || tried >= width * height || tried === matches[t] || !usable[tried]) return;
        const d = distance(search, t, tried);
        if (d < distances[t]) {
          distances[t] = d;
          matches[t] = tried;
        }
      };
      for (const apart of [step, step * width]) if (matches[t + apart] >= 0) attempt(matches[t + apart] - apart);
      let chance = scrambled(seed ^ scrambled(Math.imul(t, 2654435761) + round));
      for (let r = reach; r >= 1; r >>= 1) {
        chance = scrambled(chance + 0x9e3779b9);
        const span = 2 * r + 1;
        const held = (v: number, extent: number): number => Math.min(extent - 1 - HALF, Math.max(HALF, v));
        const x = held((matches[t] % width) + ((chance & 0xffff) % span) - r, width),
          y = held(Math.floor(matches[t] / width) + ((chance >>> 16) % span) - r, height);
        attempt(y * width + x);
      }
    }
  }
}

/** What the patches say of each wanted pixel. */
export interface PatchVote {
  width: number;
  height: number;
  /** Samples that are taken, 16 bits. */
  planes: Uint16Array[];
  targets: Int32Array;
  matches: Int32Array;
  /** One of each target. */
  weights: Float32Array;
  /** 1 at the pixels that are asked for. */
  wanted: Uint8Array;
}

/** @returns the weighted sums of each plane, and last the sums of the weights. */
export function votePatches({ width, height, planes, targets, matches, weights, wanted }: PatchVote): Float32Array[] {
  const sums = [...planes, wanted].map(() => new Float32Array(width * height));
  targets.forEach((t, i) => {
    for (let row = -HALF; row <= HALF; row++) {
      for (let column = -HALF; column <= HALF; column++) {
        const o = row * width + column;
        if (!wanted[t + o]) continue;
        planes.forEach((plane, p) => (sums[p][t + o] += weights[i] * plane[matches[t] + o]));
        sums[planes.length][t + o] += weights[i];
      }
    }
  });
  return sums;
}
