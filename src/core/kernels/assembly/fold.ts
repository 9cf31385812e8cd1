// What networks read and answer, and the planes it comes from. The explanation is in ../fold.ts.

import { clampI } from './common';

/**
 * Samples of a line, two by two: the first of each pair to `even`, the second to `odd`, times `scale`. Sample i of the pairs is
 * ((x + i) >> shift) - from of the line; beyond the line its ends repeat. With a shift, x is even and both are the same.
 */
@inline
function splitLine(line: usize, width: i32, x: i32, from: i32, shift: i32, pairs: i32, scale: f32, even: usize, odd: usize): void {
  const unit = f32x4.splat(scale);
  for (let i = 0; i < pairs; i++) {
    const first = ((x + 2 * i) >> shift) - from;
    // Four pairs at once inside the line.
    if (shift == 0 && i + 4 <= pairs && first >= 0 && first + 8 <= width) {
      const eight = v128.load(line + (first << 1));
      v128.store(even + (i << 2), f32x4.mul(f32x4.convert_i32x4_s(v128.and(eight, i32x4.splat(0xffff))), unit));
      v128.store(odd + (i << 2), f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(eight, 16)), unit));
      i += 3;
      continue;
    }
    store<f32>(even + (i << 2), <f32>load<u16>(line + (clampI(first, 0, width - 1) << 1)) * scale);
    const second = ((x + 2 * i + 1) >> shift) - from;
    store<f32>(odd + (i << 2), <f32>load<u16>(line + (clampI(second, 0, width - 1) << 1)) * scale);
  }
}

/** Part x, y, 2 `w`, 2 `h` of a plane whose first sample is fromX, fromY, as four planes of `w` x `h`. */
export function foldPlane(
  src: usize, width: i32, height: i32, fromX: i32, fromY: i32, x: i32, y: i32, w: i32, h: i32, shiftX: i32, shiftY: i32, scale: f32, out: usize,
): void {
  const size = w * h;
  for (let i = 0; i < 2 * h; i++) {
    const line = src + ((clampI(((y + i) >> shiftY) - fromY, 0, height - 1) * width) << 1);
    const even = out + (((i & 1) * 2 * size + (i >> 1) * w) << 2);
    splitLine(line, width, x, fromX, shiftX, w, scale, even, even + (size << 2));
  }
}

/** Lines y, y + 2, ... of a plane from column x on as two planes of `w` x `lines`, the last line first when `upsideDown`. */
export function foldLines(
  src: usize, width: i32, height: i32, x: i32, y: i32, w: i32, lines: i32, upsideDown: bool, scale: f32, out: usize,
): void {
  const parity = y & 1;
  for (let i = 0; i < lines; i++) {
    const line = src + ((min(height - 2 + parity, y + 2 * i) * width) << 1);
    const even = out + (((upsideDown ? lines - 1 - i : i) * w) << 2);
    splitLine(line, width, x, 0, 0, w, scale, even, even + ((w * lines) << 2));
  }
}

/** Part x, y, `w`, `h` of a plane as floats. */
export function takePlane(src: usize, width: i32, height: i32, x: i32, y: i32, w: i32, h: i32, scale: f32, out: usize): void {
  const unit = f32x4.splat(scale);
  for (let j = 0; j < h; j++) {
    const line = src + ((clampI(y + j, 0, height - 1) * width) << 1);
    const to = out + ((j * w) << 2);
    let i = 0;
    for (; i < w && x + i < 0; i++) store<f32>(to + (i << 2), <f32>load<u16>(line) * scale);
    for (; i + 4 <= w && x + i + 4 <= width; i += 4)
      v128.store(to + (i << 2), f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v128.load64_zero(line + ((x + i) << 1)))), unit));
    for (; i < w; i++) store<f32>(to + (i << 2), <f32>load<u16>(line + (clampI(x + i, 0, width - 1) << 1)) * scale);
  }
}

/** A 16-bit sample and what is added to it, rounded and held in its range. */
@inline
function addTo(p: usize, change: f32): void {
  store<u16>(p, <u16>nearest(min<f32>(65535, max<f32>(0, <f32>load<u16>(p) + change))));
}

/** Four samples, and what is added to them. */
@inline
function addFour(p: usize, change: v128): void {
  const was = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v128.load64_zero(p)));
  const codes = i32x4.trunc_sat_f32x4_s(f32x4.nearest(f32x4.add(was, change)));
  v128.store64_lane(p, i16x8.narrow_i32x4_u(codes, codes), 0);
}

/**
 * Adds four folded planes, times `factor`, to samples `left` to `right` of the first `bottom` lines of a plane whose first sample is
 * fromX, fromY; where several share a sample they are summed. x, y are the place of the folded ones.
 */
export function addFolded(
  folded: usize, w: i32, h: i32, x: i32, y: i32, factor: f32, plane: usize, width: i32, fromX: i32, fromY: i32,
  left: i32, right: i32, bottom: i32, shiftX: i32, shiftY: i32,
): void {
  const size = w * h, gain = f32x4.splat(factor);
  for (let j = 0; j < bottom; j++) {
    const row = plane + ((j * width) << 1);
    for (let i = left; i < right; i++) {
      const px = ((i + fromX) << shiftX) - x, py = ((j + fromY) << shiftY) - y;
      const line = folded + (((py & 1) * 2 * size + (py >> 1) * w) << 2);
      if (shiftX == 0 && shiftY == 0 && (px & 1) == 0 && i + 8 <= right) {
        const at = line + ((px >> 1) << 2);
        const even = f32x4.mul(v128.load(at), gain), odd = f32x4.mul(v128.load(at + (size << 2)), gain);
        addFour(row + (i << 1), v128.shuffle<f32>(even, odd, 0, 4, 1, 5));
        addFour(row + ((i + 4) << 1), v128.shuffle<f32>(even, odd, 2, 6, 3, 7));
        i += 7;
        continue;
      }
      let sum: f32 = 0;
      for (let b = py; b < py + (1 << shiftY); b++)
        for (let a = px; a < px + (1 << shiftX); a++)
          sum += load<f32>(folded + ((((b & 1) * 2 + (a & 1)) * size + (b >> 1) * w + (a >> 1)) << 2));
      addTo(row + (i << 1), sum * factor);
    }
  }
}

/**
 * Adds two planes folded across, of `w` x `lines`, times `factor`, to columns `left` to `right` of every other of the first
 * `bottom` lines. Their first column is the plane's x, their first line, or last when `upsideDown`, the plane's y.
 */
export function addLines(
  folded: usize, w: i32, lines: i32, upsideDown: bool, x: i32, y: i32, factor: f32, plane: usize, width: i32,
  left: i32, right: i32, bottom: i32,
): void {
  const size = w * lines;
  for (let i = 0; i < lines; i++) {
    const at = y + 2 * i;
    if (at < 0 || at >= bottom) continue;
    const line = folded + (((upsideDown ? lines - 1 - i : i) * w) << 2);
    for (let column = left; column < right; column++) {
      const px = column - x;
      addTo(plane + ((at * width + column) << 1), load<f32>(line + (((px & 1) * size + (px >> 1)) << 2)) * factor);
    }
  }
}

/** Adds a plane of floats `stride` wide, times `factor`, to `w` x `h` samples of a plane `width` wide. */
export function addPlain(from: usize, stride: i32, factor: f32, plane: usize, width: i32, w: i32, h: i32): void {
  for (let j = 0; j < h; j++)
    for (let i = 0; i < w; i++) addTo(plane + ((j * width + i) << 1), load<f32>(from + ((j * stride + i) << 2)) * factor);
}

/** Adds planes folded by `folds` both ways, each `w` wide and of `size` samples, times `factor`, to `width` x `height` floats; x, y are the first one's place in the unfolded. */
export function addUnfolded(folded: usize, folds: i32, w: i32, size: i32, x: i32, y: i32, factor: f32, data: usize, width: i32, height: i32): void {
  for (let j = 0; j < height; j++) {
    const py = y + j;
    const row = folded + (((py % folds) * folds * size + (py / folds) * w) << 2);
    let column = x % folds, at = x / folds;
    for (let i = 0; i < width; i++) {
      const p = data + ((j * width + i) << 2);
      store<f32>(p, load<f32>(p) + load<f32>(row + ((column * size + at) << 2)) * factor);
      if (++column == folds) {
        column = 0;
        at++;
      }
    }
  }
}
