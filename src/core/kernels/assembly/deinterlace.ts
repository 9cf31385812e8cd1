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
    const left = load<u16>(to), right = load<u16>(to + ((width - 1) << 1));
    for (let m = 1; m <= MARGIN; m++) {
      store<u16>(to - (m << 1), left);
      store<u16>(to + ((width - 1 + m) << 1), right);
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

@inline
function backHalf(p: usize, odd: bool): v128 {
  if (!odd) return v128.load(p);
  return half(v128.load(p - 4), v128.load(p - 2), v128.load(p), v128.load(p + 2));
}

@inline
function aheadHalf(p: usize, odd: bool): v128 {
  if (!odd) return v128.load(p);
  return half(v128.load(p - 2), v128.load(p), v128.load(p + 2), v128.load(p + 4));
}

@inline
function absDiff(a: v128, b: v128): v128 {
  return i16x8.abs(i16x8.sub(a, b));
}

let mean: v128 = i16x8.splat(0);
let bound: v128 = i16x8.splat(0);
let detail: v128 = i16x8.splat(0);
let apart: v128 = i16x8.splat(0);

/** What the neighbouring fields say along one motion: their mean, how far to trust it, and their fine vertical detail. */
@inline
function along(
  p2: usize, p1: usize, n1: usize, n2: usize, ca: v128, cb: v128,
  row: i32, at: usize, above: usize, vx: i32, lines: i32,
): void {
  const odd = (vx & 1) != 0;
  const dx = (vx >> 1) << 1;
  const back = p1 + at - lines * row - dx, ahead = n1 + at + lines * row + dx;
  const p = backHalf(back, odd), n = aheadHalf(ahead, odd);
  mean = i16x8.avgr_u(p, n);
  apart = absDiff(p, n);
  const back2 = p2 + above - 2 * lines * row - (vx << 1), ahead2 = n2 + above + 2 * lines * row + (vx << 1);
  const t1 = i16x8.avgr_u(absDiff(v128.load(back2), ca), absDiff(v128.load(back2 + row), cb));
  const t2 = i16x8.avgr_u(absDiff(v128.load(ahead2), ca), absDiff(v128.load(ahead2 + row), cb));
  const change = i16x8.max_s(i16x8.max_s(i16x8.shr_u(apart, 1), t1), t2);
  const upper = i16x8.avgr_u(backHalf(back - row, odd), aheadHalf(ahead - row, odd));
  const lower = i16x8.avgr_u(backHalf(back + row, odd), aheadHalf(ahead + row, odd));
  const b = i16x8.sub(upper, ca), f = i16x8.sub(lower, cb), da = i16x8.sub(mean, ca), db = i16x8.sub(mean, cb);
  const most = i16x8.max_s(i16x8.max_s(db, da), i16x8.min_s(b, f));
  const least = i16x8.min_s(i16x8.min_s(db, da), i16x8.max_s(b, f));
  bound = i16x8.max_s(change, i16x8.max_s(least, i16x8.neg(most)));
  detail = i16x8.add_sat_s(i16x8.sub(mean, upper), i16x8.sub(mean, lower));
}

/** Cost of going straight down, over nine samples, below which no edge is looked for. */
const STEEP: u8 = 54;
/** Disagreement of the fields, in 15-bit steps, from which the edge search is worth its time. */
const UNSURE: i16 = 512;
const CAP: i8 = 28; // nine capped differences fit a byte

/** One direction's cost row: |above(x + d) - below(x - d)|, capped, on 8-bit lines, x from -16 to width + 16. */
@inline
function costRow(above: usize, below: usize, width: i32, d: i32, dst: usize): void {
  for (let x = -16; x < width + 16; x += 16) {
    const a = v128.load(above + x + d), b = v128.load(below + x - d);
    const diff = v128.or(i8x16.sub_sat_u(a, b), i8x16.sub_sat_u(b, a));
    v128.store(dst + x + 16, i8x16.min_u(diff, i8x16.splat(CAP)));
  }
}

/** Sums over nine samples centred on x of a cost row, sixteen at once. */
@inline
function windowSum(row: usize, x: i32): v128 {
  const p = row + x + 16 - 4;
  let s = i8x16.add(v128.load(p), v128.load(p + 1));
  s = i8x16.add(s, i8x16.add(v128.load(p + 2), v128.load(p + 3)));
  s = i8x16.add(s, i8x16.add(v128.load(p + 4), v128.load(p + 5)));
  s = i8x16.add(s, i8x16.add(v128.load(p + 6), v128.load(p + 7)));
  return i8x16.add(s, v128.load(p + 8));
}

/**
 * Direction of the edge through sixteen missing samples, -3 to 3 a lane, 0 where going straight down is as good: an
 * edge is believed when following it costs less than 5/16 of that.
 */
@inline
function edgeDirections(costs: usize, costBytes: i32, x: i32, steepest: u8): v128 {
  const straight = windowSum(costs + 3 * costBytes, x);
  const steep = i8x16.gt_u(straight, i8x16.splat(steepest));
  if (!v128.any_true(steep)) return i8x16.splat(0);
  // straight / 4 + straight / 16, by halving averages with zero (each rounds up).
  const zero = i8x16.splat(0);
  const quarter = i8x16.avgr_u(i8x16.avgr_u(straight, zero), zero);
  const limit = i8x16.add(quarter, i8x16.avgr_u(i8x16.avgr_u(quarter, zero), zero));
  let least = v128.and(steep, limit);
  let direction = zero;
  for (let d = -3; d <= 3; d++) {
    if (d == 0) continue;
    const cost = windowSum(costs + (d + 3) * costBytes, x);
    const better = i8x16.lt_u(cost, least);
    least = i8x16.min_u(cost, least);
    direction = v128.bitselect(i8x16.splat(<i8>d), direction, better);
  }
  return direction;
}

/**
 * Writes the missing lines of `out` (16-bit, full height). p2..n2 are padded 15-bit fields in time order, the middle one
 * holding the lines of `parity`. `vectors` may be 0; `bytes` is the middle field with
 * 8-bit samples, or 0 for no edge search. `scratch` holds eight rows of width + 48 bytes.
 */
export function deinterlaceField(
  p2: usize, p1: usize, cur: usize, n1: usize, n2: usize, width: i32, lines: i32, parity: i32,
  vectors: usize, columns: i32, rows: i32, blockWidth: i32, blockHeight: i32, bytes: usize, out: usize, scratch: usize,
): void {
  const row = (width + 2 * MARGIN) << 1;
  const byteRow = width + 2 * MARGIN;
  const costBytes = width + 48;
  const directions = scratch + 7 * costBytes;
  const shift = parity == 0 ? 0 : -1;
  const edges = bytes != 0;
  for (let k = 0; k < lines; k++) {
    const start = (k + MARGIN) * row + (MARGIN << 1);
    const upStart = start + shift * row;
    const upper = bytes + (k + MARGIN + shift) * byteRow + MARGIN;
    let costed = false;
    let searched = -1;
    const to = out + (((2 * k + 1 - parity) * width) << 1);
    const blockRow = min(rows - 1, k / blockHeight) * columns;
    for (let x = 0; x < width; x += 8) {
      const at: usize = start + (x << 1), above: usize = upStart + (x << 1);
      const ca = v128.load(cur + above), cb = v128.load(cur + above + row);
      const near = i16x8.avgr_u(ca, cb);
      const far = i16x8.avgr_u(v128.load(cur + above - row), v128.load(cur + above + 2 * row));
      let value = i16x8.add_sat_s(near, i16x8.shr_s(i16x8.sub(near, far), 3));
      let vx = 0, vy = 0;
      if (vectors) {
        const vector = vectors + ((blockRow + x / blockWidth) << 2);
        vx = <i32>load<i16>(vector);
        vy = <i32>load<i16>(vector + 2);
      }
      along(p2, p1, n1, n2, ca, cb, row, at, above, vx, vy / 2);
      // Where the fields agree, they decide, and the edge search would change nothing.
      if (edges && v128.any_true(i16x8.gt_s(bound, i16x8.splat(UNSURE)))) {
        if (!costed) {
          for (let d = -3; d <= 3; d++) costRow(upper, upper + byteRow, width, d, scratch + (d + 3) * costBytes);
          costed = true;
        }
        const group = x & ~15;
        if (group != searched) {
          v128.store(directions + group, edgeDirections(scratch, costBytes, group, STEEP));
          searched = group;
        }
        const found = v128.load64_zero(directions + x);
        if (v128.any_true(found)) {
          const direction = i16x8.extend_low_i8x16_s(found);
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
      else {
        v128.store(scratch, value);
        memory.copy(to + (x << 1), scratch, (width - x) << 1);
      }
    }
  }
}
