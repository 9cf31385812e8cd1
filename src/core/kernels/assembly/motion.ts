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

/** Sum of absolute differences of a window 8 or 16 samples wide. */
@inline
function sad(a: usize, aStride: i32, b: usize, bStride: i32, width: i32, height: i32): i32 {
  let sum = i32x4.splat(0);
  if (width == 16) {
    // Every other row is enough at the finest level.
    for (let y = 0; y < height; y += 2) {
      const d = absDiff(v128.load(a), v128.load(b));
      sum = i32x4.add(sum, i32x4.extadd_pairwise_i16x8_u(i16x8.extadd_pairwise_i8x16_u(d)));
      a += aStride << 1;
      b += bStride << 1;
    }
  } else {
    for (let y = 0; y < height; y += 2) {
      const p = v128.load64_lane(a + aStride, v128.load64_zero(a), 1);
      const q = v128.load64_lane(b + bStride, v128.load64_zero(b), 1);
      sum = i32x4.add(sum, i32x4.extadd_pairwise_i16x8_u(i16x8.extadd_pairwise_i8x16_u(absDiff(p, q))));
      a += aStride << 1;
      b += bStride << 1;
    }
  }
  return i32x4.extract_lane(sum, 0) + i32x4.extract_lane(sum, 1) + i32x4.extract_lane(sum, 2) + i32x4.extract_lane(sum, 3);
}

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

function visit(x: i32, y: i32): void {
  if (x < -LIMIT || x > LIMIT || y < -LIMIT || y > LIMIT) return;
  let cost = x == 0 && y == 0 ? 0 : nonZeroCost;
  cost += sad(windowC, stride, windowB - y * stride - x, stride, ww, wh);
  if (windowA && cost < best) cost += sad(windowC, stride, windowA + y * stride + x, stride, ww, wh);
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
        // Every other vector, as on a chessboard, then the neighbours of the best.
        for (let y = -reachY; y <= reachY; y++) for (let x = -reachX + ((y + reachX + reachY) & 1); x <= reachX; x += 2) visit(x, y);
        const mx = bestX, my = bestY;
        visit(mx - 1, my);
        visit(mx + 1, my);
        visit(mx, my - 1);
        visit(mx, my + 1);
      } else {
        const px = bx >> parentShift, py = by >> parentShift;
        parent(parents, px, py, parentColumns, parentRows);
        parent(parents, px - 1, py, parentColumns, parentRows);
        parent(parents, px + 1, py, parentColumns, parentRows);
        parent(parents, px, py - 1, parentColumns, parentRows);
        parent(parents, px, py + 1, parentColumns, parentRows);
        const cx = bestX, cy = bestY;
        for (let y = -1; y <= 1; y++) for (let x = -1; x <= 1; x++) if (x != 0 || y != 0) visit(cx + x, cy + y);
      }
      const to = vectors + ((by * columns + bx) << 2);
      store<i16>(to, <i16>bestX);
      store<i16>(to + 2, <i16>bestY);
    }
  }
}

@inline
function parent(parents: usize, x: i32, y: i32, columns: i32, rows: i32): void {
  const at = parents + ((clampI(y, 0, rows - 1) * columns + clampI(x, 0, columns - 1)) << 2);
  const vx = 2 * load<i16>(at), vy = 2 * load<i16>(at + 2);
  if (vx != bestX || vy != bestY) visit(vx, vy);
}
