// Patches that look alike: the search and the vote. Explained in ../reference/patches.ts.
import { clampI } from './common';

/** Pixels from a patch's middle to its border; patches are 7 x 7. */
const HALF: i32 = 3;

/** The first seven of eight lanes. */
@inline
function sevenLanes(): v128 {
  return i16x8(-1, -1, -1, -1, -1, -1, -1, 0);
}

/** Sum of squared differences of two patches where the first is trusted, or something above `limit` as soon as it is more. */
function distance(planes: usize, count: i32, size: i32, trust: usize, width: i32, a: i32, b: i32, limit: i32): i32 {
  const seven = sevenLanes();
  let total = 0;
  for (let p = 0; p < count; p++) {
    let lanes = i32x4.splat(0);
    for (let row = -HALF; row <= HALF; row++) {
      const from = a + row * width - HALF, to = b + row * width - HALF;
      const d = i16x8.sub(i16x8.extend_low_i8x16_u(v128.load64_zero(planes + from)), i16x8.extend_low_i8x16_u(v128.load64_zero(planes + to)));
      const kept = v128.and(v128.and(d, seven), i16x8.extend_low_i8x16_s(v128.load64_zero(trust + from)));
      lanes = i32x4.add(lanes, i32x4.dot_i16x8_s(kept, kept));
    }
    total += i32x4.extract_lane(lanes, 0) + i32x4.extract_lane(lanes, 1) + i32x4.extract_lane(lanes, 2) + i32x4.extract_lane(lanes, 3);
    if (total > limit) return total;
    planes += size;
  }
  return total;
}

@inline
function scrambled(v: u32): u32 {
  v ^= v >> 16;
  v *= 0x7feb352d;
  v ^= v >> 15;
  v *= 0x846ca68b;
  return v ^ (v >> 16);
}

/**
 * Finds for each target the patch that looks most like its own: `rounds` times over all of them, there and back, it tries the neighbours'
 * answers moved along, and random places ever nearer to its own.
 */
export function searchPatches(
  planes: usize, count: i32, width: i32, height: i32, trust: usize, usable: usize, targets: usize, targetCount: i32, rounds: i32, seed: i32,
  reach: i32, matches: usize, distances: usize,
): void {
  const size = width * height;
  for (let i = 0; i < targetCount; i++) {
    const t = load<i32>(targets + (i << 2));
    store<i32>(distances + (t << 2), distance(planes, count, size, trust, width, t, load<i32>(matches + (t << 2)), i32.MAX_VALUE));
  }
  for (let round = 0; round < rounds; round++) {
    const back = (round & 1) != 0;
    const step = back ? 1 : -1;
    for (let i = 0; i < targetCount; i++) {
      const t = load<i32>(targets + ((back ? targetCount - 1 - i : i) << 2));
      let best = load<i32>(matches + (t << 2)), least = load<i32>(distances + (t << 2));
      for (let side = 0; side < 2; side++) {
        const apart = side ? step * width : step;
        const beside = load<i32>(matches + ((t + apart) << 2));
        if (beside < 0) continue;
        const tried = beside - apart;
        if (tried < 0 || tried >= size || tried == best || load<u8>(usable + tried) == 0) continue;
        const d = distance(planes, count, size, trust, width, t, tried, least);
        if (d < least) {
          least = d;
          best = tried;
        }
      }
      let chance = scrambled(<u32>seed ^ scrambled(<u32>t * 2654435761 + <u32>round));
      for (let r = reach; r >= 1; r >>= 1) {
        chance = scrambled(chance + 0x9e3779b9);
        const span = <u32>(2 * r + 1);
        const x = clampI(best % width + <i32>((chance & 0xffff) % span) - r, HALF, width - 1 - HALF);
        const y = clampI(best / width + <i32>((chance >> 16) % span) - r, HALF, height - 1 - HALF);
        const tried = y * width + x;
        if (tried == best || load<u8>(usable + tried) == 0) continue;
        const d = distance(planes, count, size, trust, width, t, tried, least);
        if (d < least) {
          least = d;
          best = tried;
        }
      }
      store<i32>(matches + (t << 2), best);
      store<i32>(distances + (t << 2), least);
    }
  }
}

/** Adds to each wanted pixel what the matches of the targets round it have there, each with its weight; the last of `sums` are the weights. */
export function votePatches(
  planes: usize, count: i32, width: i32, height: i32, targets: usize, targetCount: i32, matches: usize, weights: usize, wanted: usize, sums: usize,
): void {
  const size = width * height;
  for (let i = 0; i < targetCount; i++) {
    const t = load<i32>(targets + (i << 2));
    const from = load<i32>(matches + (t << 2));
    const weight = load<f32>(weights + (i << 2));
    for (let row = -HALF; row <= HALF; row++) {
      for (let column = -HALF; column <= HALF; column++) {
        const o = row * width + column;
        const at = t + o;
        if (load<u8>(wanted + at) == 0) continue;
        for (let p = 0; p < count; p++) {
          const sum = sums + ((p * size + at) << 2);
          store<f32>(sum, load<f32>(sum) + weight * <f32>load<u16>(planes + ((p * size + from + o) << 1)));
        }
        const sum = sums + ((count * size + at) << 2);
        store<f32>(sum, load<f32>(sum) + weight);
      }
    }
  }
}
