// Hierarchical block matching on 8-bit planes. The reference and the explanation are in ../reference/motion.ts.

import { MARGIN, clampI } from './common';

const LIMIT: i32 = 31;
const WINDOW: i32 = 8;

/** 8-bit copy (sample >> 8) of lines `first`, `first + step`, ... of a 16-bit plane, with replicated margins. */
export function bytesFromPlane(src: usize, width: i32, lines: i32, first: i32, step: i32, dst: usize): void {
  const stride = width + 2 * MARGIN;
  for (let y = 0; y < lines; y++) {
    const from = src + (((first + y * step) * width) << 1);
    const to = dst + (y + MARGIN) * stride + MARGIN;
    let x = 0;
    for (; x + 16 <= width; x += 16) {
      const a = v128.shr<u16>(v128.load(from + (x << 1)), 8);
      const b = v128.shr<u16>(v128.load(from + (x << 1) + 16), 8);
      v128.store(to + x, i8x16.narrow_i16x8_u(a, b));
    }
    for (; x < width; x++) store<u8>(to + x, <u8>(load<u16>(from + (x << 1)) >> 8));
  }
  replicate(dst, width, lines);
}

/** Halves both ways by the rounded mean of four. */
export function halveBytes(src: usize, width: i32, height: i32, dst: usize): void {
  const stride = width + 2 * MARGIN;
  const w = (width + 1) >> 1, h = (height + 1) >> 1, outStride = w + 2 * MARGIN;
  for (let y = 0; y < h; y++) {
    const top = src + (2 * y + MARGIN) * stride + MARGIN;
    const low = src + (min(height - 1, 2 * y + 1) + MARGIN) * stride + MARGIN;
    const to = dst + (y + MARGIN) * outStride + MARGIN;
    let x = 0;
    for (; 2 * x + 16 <= width; x += 8) {
      const sum = i16x8.add(
        i16x8.extadd_pairwise_i8x16_u(v128.load(top + 2 * x)),
        i16x8.extadd_pairwise_i8x16_u(v128.load(low + 2 * x)),
      );
      const mean = i16x8.shr_u(i16x8.add(sum, i16x8.splat(2)), 2);
      v128.store64_lane(to + x, i8x16.narrow_i16x8_u(mean, mean), 0);
    }
    for (; x < w; x++) {
      const x1 = min(width - 1, 2 * x + 1);
      const sum = <i32>load<u8>(top + 2 * x) + <i32>load<u8>(top + x1) + <i32>load<u8>(low + 2 * x) + <i32>load<u8>(low + x1);
      store<u8>(to + x, <u8>((sum + 2) >> 2));
    }
  }
  replicate(dst, w, h);
}

function replicate(plane: usize, width: i32, height: i32): void {
  const stride = width + 2 * MARGIN;
  for (let y = 0; y < height; y++) {
    const row = plane + (y + MARGIN) * stride;
    memory.fill(row, load<u8>(row + MARGIN), MARGIN);
    memory.fill(row + MARGIN + width, load<u8>(row + MARGIN + width - 1), MARGIN);
  }
  for (let y = 0; y < MARGIN; y++) {
    memory.copy(plane + y * stride, plane + MARGIN * stride, stride);
    memory.copy(plane + (height + MARGIN + y) * stride, plane + (height + MARGIN - 1) * stride, stride);
  }
}

@inline
function absDiff(a: v128, b: v128): v128 {
  return v128.or(i8x16.sub_sat_u(a, b), i8x16.sub_sat_u(b, a));
}

/** Sums of absolute differences, in eight lanes, of two rows of eight samples, the first two in one vector. */
@inline
function twoRows(p: v128, b: usize, stride: i32): v128 {
  const q = v128.load64_lane(b + stride, v128.load64_zero(b), 1);
  return i16x8.extadd_pairwise_i8x16_u(absDiff(p, q));
}

@inline
function oneRow(a: usize, b: usize): v128 {
  return i16x8.extadd_pairwise_i8x16_u(absDiff(v128.load(a), v128.load(b)));
}

@inline
function total(sums: v128): i32 {
  const quads = i32x4.extadd_pairwise_i16x8_u(sums);
  const pairs = i32x4.add(quads, i32x4.shuffle(quads, quads, 2, 3, 0, 1));
  return i32x4.extract_lane(pairs, 0) + i32x4.extract_lane(pairs, 1);
}

/**
 * Sum of absolute differences of a window 8 or 16 samples wide against one place before and, unless 0, one after. Of
 * the wide one every other row is enough.
 */
@inline
function sad(c: usize, before: usize, after: usize, stride: i32, width: i32, height: i32): i32 {
  let sums = i16x8.splat(0);
  const step = stride << 1;
  const end = c + height * stride;
  if (width == 16) {
    if (after) {
      for (; c < end; c += step, before += step, after += step) sums = i16x8.add(sums, i16x8.add(oneRow(c, before), oneRow(c, after)));
    } else {
      for (; c < end; c += step, before += step) sums = i16x8.add(sums, oneRow(c, before));
    }
  } else if (after) {
    for (; c < end; c += step, before += step, after += step) {
      const p = v128.load64_lane(c + stride, v128.load64_zero(c), 1);
      sums = i16x8.add(sums, i16x8.add(twoRows(p, before, stride), twoRows(p, after, stride)));
    }
  } else {
    for (; c < end; c += step, before += step) sums = i16x8.add(sums, twoRows(v128.load64_lane(c + stride, v128.load64_zero(c), 1), before, stride));
  }
  return total(sums);
}

/** A place, its four neighbours beside it and the four at its corners; the finest level looks only beside. */
const BX: StaticArray<i32> = [0, -1, 1, 0, 0, -1, 1, -1, 1];
const BY: StaticArray<i32> = [0, 0, 0, -1, 1, -1, -1, 1, 1];

let best: i32 = 0;
let bestX: i32 = 0;
let bestY: i32 = 0;
let windowC: usize = 0;
let windowB: usize = 0;
let windowA: usize = 0;
let stride: i32 = 0;
let ww: i32 = 0;
let wh: i32 = 0;
let nonZeroCost: i32 = 0;

@inline
function visit(x: i32, y: i32): void {
  if (x < -LIMIT || x > LIMIT || y < -LIMIT || y > LIMIT) return;
  const by = y * stride + x;
  const cost = (x == 0 && y == 0 ? 0 : nonZeroCost) + sad(windowC, windowB - by, windowA ? windowA + by : 0, stride, ww, wh);
  if (cost < best) {
    best = cost;
    bestX = x;
    bestY = y;
  }
}

/**
 * One level of the search. `parents` holds the vectors of the level above (`parentColumns` x `parentRows`, one for
 * 2^`parentShift` blocks each way) or is 0 on the coarsest, where the reach is searched in full.
 */
export function motionLevel(
  current: usize, before: usize, after: usize, width: i32, height: i32,
  blockWidth: i32, blockHeight: i32, columns: i32, rows: i32,
  parents: usize, parentColumns: i32, parentRows: i32, parentShift: i32,
  reachX: i32, reachY: i32, penalty: i32, vectors: usize,
): void {
  stride = width + 2 * MARGIN;
  ww = max(WINDOW, blockWidth);
  wh = max(WINDOW, blockHeight);
  nonZeroCost = (penalty * ww * wh * (after ? 2 : 1)) >> (ww == 16 ? 4 : 3);
  for (let by = 0; by < rows; by++) {
    for (let bx = 0; bx < columns; bx++) {
      const at = (by * blockHeight + ((blockHeight - wh) >> 1) + MARGIN) * stride + bx * blockWidth + ((blockWidth - ww) >> 1) + MARGIN;
      windowC = current + at;
      windowB = before + at;
      windowA = after ? after + at : 0;
      best = i32.MAX_VALUE;
      bestX = 0;
      bestY = 0;
      visit(0, 0);
      if (!parents) {
        // Every other vector, as on a chessboard, then round the best.
        for (let y = -reachY; y <= reachY; y++) for (let x = -reachX + ((y + reachX + reachY) & 1); x <= reachX; x += 2) visit(x, y);
      } else {
        const px = bx >> parentShift, py = by >> parentShift;
        for (let i = 0; i < 5; i++) {
          const from = parents + ((clampI(py + unchecked(BY[i]), 0, parentRows - 1) * parentColumns + clampI(px + unchecked(BX[i]), 0, parentColumns - 1)) << 2);
          const vx = 2 * load<i16>(from), vy = 2 * load<i16>(from + 2);
          if (vx != bestX || vy != bestY) visit(vx, vy);
        }
      }
      const cx = bestX, cy = bestY, count = parentShift ? 5 : 9;
      for (let i = 1; i < count; i++) visit(cx + unchecked(BX[i]), cy + unchecked(BY[i]));
      const to = vectors + ((by * columns + bx) << 2);
      store<i16>(to, <i16>bestX);
      store<i16>(to + 2, <i16>bestY);
    }
  }
}

/**
 * Writes a plane with each block taken from where it was: block (bx, by) from its place less its vector, divided by 2^`shiftX`
 * and 2^`shiftY` for coarser planes. Beyond the plane its edge repeats.
 */
export function moveBlocks(
  src: usize, width: i32, height: i32, vectors: usize, columns: i32, rows: i32, blockWidth: i32, blockHeight: i32, shiftX: i32, shiftY: i32, dst: usize,
): void {
  for (let by = 0; by < rows; by++) {
    for (let bx = 0; bx < columns; bx++) {
      const vector = vectors + ((by * columns + bx) << 2);
      const dx = halved(load<i16>(vector), shiftX), dy = halved(load<i16>(vector + 2), shiftY);
      const left = bx * blockWidth, right = min(width, left + blockWidth);
      const inside = left - dx >= 0 && right - dx <= width;
      for (let y = by * blockHeight; y < min(height, (by + 1) * blockHeight); y++) {
        const from = src + ((clampI(y - dy, 0, height - 1) * width) << 1), to = dst + ((y * width) << 1);
        if (inside) memory.copy(to + (left << 1), from + ((left - dx) << 1), (right - left) << 1);
        else for (let x = left; x < right; x++) store<u16>(to + (x << 1), load<u16>(from + (clampI(x - dx, 0, width - 1) << 1)));
      }
    }
  }
}

/** v / 2^shift, halves rounded up. */
@inline
function halved(v: i32, shift: i32): i32 {
  return shift ? (v + (1 << (shift - 1))) >> shift : v;
}
