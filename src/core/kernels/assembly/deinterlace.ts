// The missing lines of a field. The reference and the explanation are in ../reference/deinterlace.ts.

import { MARGIN } from './common';

const EDGE_WEIGHT: i16 = 19661; // 0.6 in 1/32768
const DETAIL_WEIGHT: i16 = 5120; // 40/256 in 1/32768

/** 15-bit copy (sample >> 1) of lines `first`, `first + 2`, ... of a 16-bit frame, with replicated margins. */
export function padField(src: usize, width: i32, lines: i32, first: i32, dst: usize): void {
  const stride = width + 2 * MARGIN;
  for (let y = 0; y < lines; y++) {
    const from = src + (((first + 2 * y) * width) << 1);
    const to = dst + (((y + MARGIN) * stride + MARGIN) << 1);
    let x = 0;
    for (; x + 8 <= width; x += 8) v128.store(to + (x << 1), i16x8.shr_u(v128.load(from + (x << 1)), 1));
    for (; x < width; x++) store<u16>(to + (x << 1), load<u16>(from + (x << 1)) >> 1);
    const left = v128.load16_splat(to), right = v128.load16_splat(to + ((width - 1) << 1));
    for (let m = 0; m < MARGIN; m += 8) {
      v128.store(to + ((m - MARGIN) << 1), left);
      v128.store(to + ((width + m) << 1), right);
    }
  }
  const row = stride << 1;
  for (let y = 0; y < MARGIN; y++) {
    memory.copy(dst + y * row, dst + MARGIN * row, row);
    memory.copy(dst + (lines + MARGIN + y) * row, dst + (lines + MARGIN - 1) * row, row);
  }
}

/** Half-way between samples b and c of a, b, c, d: 9/16 and -1/16 taps, not below 0. */
@inline
function half(a: v128, b: v128, c: v128, d: v128): v128 {
  const near = i16x8.avgr_u(b, c), far = i16x8.avgr_u(a, d);
  return i16x8.max_s(i16x8.add_sat_s(near, i16x8.shr_s(i16x8.sub(near, far), 3)), i16x8.splat(0));
}

/** Half-way between a sample and the next, cheaply. */
@inline
function between(p: usize): v128 {
  return i16x8.avgr_u(v128.load(p), v128.load(p + 2));
}

/** How far the fields' disagreement lets a sample go towards the lines beside it: four times as far, and all the way from a few codes on. */
@inline
function allowed(change: v128): v128 {
  const slight = i16x8.shl(i16x8.min_s(change, i16x8.splat(MAX_CHANGE)), 2);
  const plain = i16x8.shl(i16x8.min_s(i16x8.max_s(i16x8.sub(change, i16x8.splat(SLIGHT)), i16x8.splat(0)), i16x8.splat(MAX_CHANGE)), 4);
  return i16x8.add_sat_s(slight, plain);
}

@inline
function absDiff(a: v128, b: v128): v128 {
  return i16x8.abs(i16x8.sub(a, b));
}

/** Cost of going straight down, over nine samples, below which no edge is looked for. */
const STEEP: u8 = 81;
/** Disagreement of the fields, in 15-bit steps, from which the edge search is worth its time. */
const UNSURE: i16 = 6144;
/** Change, in 15-bit steps, beyond which the doubt no longer grows. */
const MAX_CHANGE: i16 = 2047;
/** Codes of 32767 by which fields disagree from noise alone: three of 255. */
const SLIGHT: i16 = 384;
const CAP: i8 = 28; // nine capped differences fit a byte

/** The first `count` samples of a vector. */
function storePart(to: usize, value: v128, count: i32): void {
  let rest = value;
  for (let i = 0; i < count; i++) {
    store<u16>(to + (i << 1), i16x8.extract_lane_u(rest, 0));
    rest = i8x16.shuffle(rest, rest, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 0, 1);
  }
}

/** Capped differences of sixteen 8-bit samples. */
@inline
function cappedDiff(a: v128, b: v128): v128 {
  return i8x16.min_u(v128.or(i8x16.sub_sat_u(a, b), i8x16.sub_sat_u(b, a)), i8x16.splat(CAP));
}

/**
 * Costs of going from `up` to `low` in one direction for sixteen samples: |up(x + d) - low(x - d)|, capped, summed over nine
 * samples centred on each. Both addresses are those of four samples before the first.
 */
@inline
function windowCost(up: usize, low: usize, d: i32): v128 {
  const v0 = cappedDiff(v128.load(up + d), v128.load(low - d)), v1 = cappedDiff(v128.load(up + d + 16), v128.load(low - d + 16));
  // Threes of neighbours, then three of these.
  const s0 = i8x16.add(v0, i8x16.add(
    i8x16.shuffle(v0, v1, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16),
    i8x16.shuffle(v0, v1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17),
  ));
  const s1 = i8x16.add(v1, i8x16.add(
    i8x16.shuffle(v1, v1, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16),
    i8x16.shuffle(v1, v1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17),
  ));
  return i8x16.add(s0, i8x16.add(
    i8x16.shuffle(s0, s1, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18),
    i8x16.shuffle(s0, s1, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21),
  ));
}

/** Least cost so far in the search for a direction. */
let least: v128 = i8x16.splat(0);

@inline
function compareDirection(up: usize, low: usize, d: i32, direction: v128): v128 {
  const cost = windowCost(up, low, d);
  const better = i8x16.lt_u(cost, least);
  least = i8x16.min_u(cost, least);
  return v128.bitselect(i8x16.splat(<i8>d), direction, better);
}

/**
 * Direction of the edge through sixteen missing samples, -3 to 3 a lane, 0 where going straight down is as good: an
 * edge is believed when following it costs less than 5/16 of that.
 */
@inline
function edgeDirections(up: usize, low: usize): v128 {
  const straight = windowCost(up, low, 0);
  const steep = i8x16.gt_u(straight, i8x16.splat(STEEP));
  if (!v128.any_true(steep)) return i8x16.splat(0);
  // straight / 4 + straight / 16, by halving averages with zero (each rounds up).
  const zero = i8x16.splat(0);
  const quarter = i8x16.avgr_u(i8x16.avgr_u(straight, zero), zero);
  const limit = i8x16.add(quarter, i8x16.avgr_u(i8x16.avgr_u(quarter, zero), zero));
  least = v128.and(steep, limit);
  let direction = compareDirection(up, low, -3, zero);
  direction = compareDirection(up, low, -2, direction);
  direction = compareDirection(up, low, -1, direction);
  direction = compareDirection(up, low, 1, direction);
  direction = compareDirection(up, low, 2, direction);
  return compareDirection(up, low, 3, direction);
}

/**
 * Writes line 2k + 1 - `parity` of `out`, a full frame: the missing one between lines of `cur`, a padded 15-bit field. p2..n2
 * are its neighbours in time order, `bytes` itself in 8 bits, or 0 for no edge search.
 */
function fillLine(
  k: i32, p2: usize, p1: usize, cur: usize, n1: usize, n2: usize, width: i32, parity: i32,
  vectors: usize, columns: i32, rows: i32, blockWidth: i32, blockHeight: i32, bytes: usize, out: usize,
): void {
  const row = (width + 2 * MARGIN) << 1;
  const byteRow = width + 2 * MARGIN;
  const blockShift = ctz(blockWidth);
  const shift = parity == 0 ? 0 : -1;
  const edges = bytes != 0;
  const start = (k + MARGIN) * row + (MARGIN << 1);
  const upStart = start + shift * row;
  const upBytes = bytes + (k + MARGIN + shift) * byteRow + MARGIN;
  let searched = -1;
  let directions = i8x16.splat(0);
  const to = out + (((2 * k + 1 - parity) * width) << 1);
  const blockRow = min(rows - 1, k / blockHeight) * columns;
  for (let x = 0; x < width; x += 8) {
    const at: usize = start + (x << 1), above: usize = upStart + (x << 1);
    const ca = v128.load(cur + above), cb = v128.load(cur + above + row);
    const near = i16x8.avgr_u(ca, cb);
    const far = i16x8.avgr_u(v128.load(cur + above - row), v128.load(cur + above + 2 * row));
    let value = i16x8.add_sat_s(near, i16x8.shr_s(i16x8.sub(near, far), 3));
    let vx = 0, down = 0;
    if (vectors) {
      const vector = vectors + ((blockRow + (x >> blockShift)) << 2);
      vx = <i32>load<i16>(vector);
      down = <i32>load<i16>(vector + 2);
    }
    const vy = down / 2; // whole lines of a field
    const odd = (vx & 1) != 0;
    const moved = (vx | vy) != 0;
    const dx = (vx >> 1) << 1;
    const back = p1 + at - vy * row - dx, ahead = n1 + at + vy * row + dx;
    let p: v128, n: v128, upper: v128, lower: v128;
    if (odd) {
      p = half(v128.load(back - 4), v128.load(back - 2), v128.load(back), v128.load(back + 2));
      n = half(v128.load(ahead - 2), v128.load(ahead), v128.load(ahead + 2), v128.load(ahead + 4));
      upper = i16x8.avgr_u(between(back - row - 2), between(ahead - row));
      lower = i16x8.avgr_u(between(back + row - 2), between(ahead + row));
    } else {
      p = v128.load(back);
      n = v128.load(ahead);
      upper = i16x8.avgr_u(v128.load(back - row), v128.load(ahead - row));
      lower = i16x8.avgr_u(v128.load(back + row), v128.load(ahead + row));
    }
    const mean = i16x8.avgr_u(p, n);
    const apart = absDiff(p, n);
    const back2 = p2 + above - 2 * vy * row - (vx << 1), ahead2 = n2 + above + 2 * vy * row + (vx << 1);
    const t1 = i16x8.avgr_u(absDiff(v128.load(back2), ca), absDiff(v128.load(back2 + row), cb));
    const t2 = i16x8.avgr_u(absDiff(v128.load(ahead2), ca), absDiff(v128.load(ahead2 + row), cb));
    const change = i16x8.max_s(i16x8.max_s(i16x8.shr_u(apart, 1), t1), t2);
    const b = i16x8.sub(upper, ca), f = i16x8.sub(lower, cb), da = i16x8.sub(mean, ca), db = i16x8.sub(mean, cb);
    const most = i16x8.max_s(i16x8.max_s(db, da), i16x8.min_s(b, f));
    const fewest = i16x8.min_s(i16x8.min_s(db, da), i16x8.max_s(b, f));
    const comb = i16x8.max_s(fewest, i16x8.neg(most));
    // What stands still and does not change is not doubted, however fine it is. What is said to have moved always is: fences,
    // stripes and lettering agree with themselves one post further.
    const doubt = moved ? comb : i16x8.min_s(allowed(change), comb);
    const bound = i16x8.max_s(change, doubt);
    const detail = i16x8.add_sat_s(i16x8.sub(mean, upper), i16x8.sub(mean, lower));
    // Where the fields agree, they decide, and the edge search would change nothing.
    if (edges && v128.any_true(i16x8.gt_s(bound, i16x8.splat(UNSURE)))) {
      const group = x & ~15;
      if (group != searched) {
        const up = upBytes + group - 4;
        directions = edgeDirections(up, up + byteRow);
        searched = group;
      }
      const found = x == group ? directions : i8x16.shuffle(directions, directions, 8, 9, 10, 11, 12, 13, 14, 15, 8, 9, 10, 11, 12, 13, 14, 15);
      const direction = i16x8.extend_low_i8x16_s(found);
      if (v128.any_true(direction)) {
        let followed = value;
        for (let d = -3; d <= 3; d++) {
          const here = i16x8.eq(direction, i16x8.splat(<i16>d));
          if (d == 0 || !v128.any_true(here)) continue;
          const candidate = i16x8.avgr_u(v128.load(cur + above + (d << 1)), v128.load(cur + above + row - (d << 1)));
          followed = v128.bitselect(candidate, followed, here);
        }
        value = i16x8.add_sat_s(value, i16x8.q15mulr_sat_s(i16x8.sub(followed, value), i16x8.splat(EDGE_WEIGHT)));
      }
    }
    const fine = i16x8.gt_s(absDiff(ca, cb), apart);
    value = i16x8.add_sat_s(value, v128.and(i16x8.q15mulr_sat_s(detail, i16x8.splat(DETAIL_WEIGHT)), fine));
    value = i16x8.min_s(value, i16x8.add_sat_s(mean, bound));
    value = i16x8.max_s(value, i16x8.sub_sat_s(mean, bound));
    value = i16x8.shl(i16x8.max_s(value, i16x8.splat(0)), 1);
    if (x + 8 <= width) v128.store(to + (x << 1), value);
    else storePart(to + (x << 1), value, width - x);
  }
}

/**
 * Both full frames of an interlaced one: `out0` at the time of its first field, `out1` at that of its second. Each keeps the
 * lines of its field, of which `frame` has the 16-bit samples, and gets the others filled. f0..f5 are padded 15-bit fields in
 * time order, the frame's own in the middle; `parity` says which lines its first field holds. `vectors` may be 0; blocks are
 * a power of two wide. The two are worked line by line in turn, since they read nearly the same fields.
 */
export function deinterlaceFrame(
  f0: usize, f1: usize, f2: usize, f3: usize, f4: usize, f5: usize, frame: usize, width: i32, height: i32, parity: i32,
  vectors: usize, columns: i32, rows: i32, blockWidth: i32, blockHeight: i32, bytes0: usize, bytes1: usize, out0: usize, out1: usize,
): void {
  const lines = height >> 1;
  const line = width << 1;
  // An odd frame's last line belongs to no pair.
  const pairs = 2 * lines * line;
  if (height & 1) {
    memory.copy(out0 + pairs, frame + pairs, line);
    memory.copy(out1 + pairs, frame + pairs, line);
  }
  for (let k = 0; k < lines; k++) {
    const own0 = (2 * k + parity) * line, own1 = (2 * k + 1 - parity) * line;
    memory.copy(out0 + own0, frame + own0, line);
    memory.copy(out1 + own1, frame + own1, line);
    fillLine(k, f0, f1, f2, f3, f4, width, parity, vectors, columns, rows, blockWidth, blockHeight, bytes0, out0);
    fillLine(k, f1, f2, f3, f4, f5, width, 1 - parity, vectors, columns, rows, blockWidth, blockHeight, bytes1, out1);
  }
}
