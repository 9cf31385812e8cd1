// Separable resampling and what belongs to it. The reference and the explanation are in ../reference/resample.ts.

import { storePart } from './common';

/** 16-bit samples to floats through a table of 65536 floats. */
export function toFloat(src: usize, count: i32, table: usize, dst: usize): void {
  for (let i = 0; i < count; i++) store<f32>(dst + (i << 2), load<f32>(table + (<u32>load<u16>(src + (i << 1)) << 2)));
}

/** 16-bit samples to floats, 0 to 1. */
export function plainToFloat(src: usize, count: i32, dst: usize): void {
  const unit = f32x4.splat(1.0 / 65535);
  for (let i = 0; i < count; i += 4) {
    const four = i32x4.extend_low_i16x8_u(v128.load64_zero(src + (i << 1)));
    v128.store(dst + (i << 2), f32x4.mul(f32x4.convert_i32x4_s(four), unit));
  }
}

/** Floats 0 to 1 to 16-bit samples, rounded and held in their range. */
export function plainFromFloat(src: usize, count: i32, dst: usize): void {
  const top = f32x4.splat(65535), half = f32x4.splat(0.5);
  for (let i = 0; i < count; i += 4) {
    const four = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(v128.load(src + (i << 2)), top), half));
    const packed = i16x8.narrow_i32x4_u(four, four);
    v128.store64_lane(dst + (i << 1), packed, 0);
  }
}

/** Floats of light back to 16-bit codes; the table is indexed by the root of the light over [0, 1]. */
export function fromFloat(src: usize, count: i32, table: usize, entries: i32, dst: usize): void {
  const top = f32x4.splat(<f32>(entries - 1));
  const zero = f32x4.splat(0);
  for (let i = 0; i < count; i += 4) {
    const light = f32x4.min(f32x4.splat(1), f32x4.max(zero, v128.load(src + (i << 2))));
    const index = i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.mul(f32x4.sqrt(light), top), f32x4.splat(0.5)));
    const to = dst + (i << 1);
    store<u16>(to, load<u16>(table + (i32x4.extract_lane(index, 0) << 1)));
    store<u16>(to + 2, load<u16>(table + (i32x4.extract_lane(index, 1) << 1)));
    store<u16>(to + 4, load<u16>(table + (i32x4.extract_lane(index, 2) << 1)));
    store<u16>(to + 6, load<u16>(table + (i32x4.extract_lane(index, 3) << 1)));
  }
}

/** Down the columns: `taps` (at most 64) weights an output row from row `starts[y]` on, rows clamped to the plane. */
export function resampleRows(
  src: usize, width: i32, height: i32, starts: usize, weights: usize, taps: i32, outHeight: i32, dst: usize,
): void {
  const row = width << 2;
  for (let y = 0; y < outHeight; y++) {
    const start = load<i32>(starts + (y << 2));
    const w = weights + ((y * taps) << 2);
    const to = dst + y * row;
    let written = false;
    // Four rows at a time, so that their addresses and weights stay in registers; more taps add to what is there.
    for (let k = 0; k < taps; k += 4) {
      const p0 = rowAt(src, start + k, height, row), p1 = rowAt(src, start + k + 1, height, row);
      const p2 = rowAt(src, start + k + 2, height, row), p3 = rowAt(src, start + k + 3, height, row);
      const w0 = v128.load32_splat(w + (k << 2)), w1 = v128.load32_splat(w + ((k + 1) << 2));
      const w2 = v128.load32_splat(w + ((k + 2) << 2)), w3 = v128.load32_splat(w + ((k + 3) << 2));
      for (let x = 0; x < row; x += 16) {
        const sum = f32x4.add(
          f32x4.add(f32x4.mul(v128.load(p0 + x), w0), f32x4.mul(v128.load(p1 + x), w1)),
          f32x4.add(f32x4.mul(v128.load(p2 + x), w2), f32x4.mul(v128.load(p3 + x), w3)),
        );
        const out = written ? f32x4.add(v128.load(to + x), sum) : sum;
        if (x + 16 <= row) v128.store(to + x, out);
        else storePart(to + x, out, (row - x) >> 2);
      }
      written = true;
    }
  }
}

@inline
function rowAt(src: usize, y: i32, height: i32, row: i32): usize {
  return src + min(height - 1, max(0, y)) * row;
}

/**
 * Along the rows: `taps` (a multiple of 4) weights an output sample from column `starts[x]` on. `line` holds
 * width + 2 x `pad` floats, filled here with replicated ends so that starts may lie outside by up to `pad`.
 */
export function resampleColumns(
  src: usize, width: i32, height: i32, starts: usize, weights: usize, taps: i32, outWidth: i32, pad: i32, line: usize, dst: usize,
): void {
  for (let y = 0; y < height; y++) {
    const from = src + ((y * width) << 2);
    const left = load<f32>(from), right = load<f32>(from + ((width - 1) << 2));
    for (let i = 0; i < pad; i++) {
      store<f32>(line + (i << 2), left);
      store<f32>(line + ((pad + width + i) << 2), right);
    }
    memory.copy(line + (pad << 2), from, width << 2);
    const to = dst + ((y * outWidth) << 2);
    const padded = line + (pad << 2);
    let x = 0;
    for (; x + 4 <= outWidth; x += 4) {
      const at = starts + (x << 2);
      const a = weighed(padded, load<i32>(at), weights, x, taps), b = weighed(padded, load<i32>(at + 4), weights, x + 1, taps);
      const c = weighed(padded, load<i32>(at + 8), weights, x + 2, taps), d = weighed(padded, load<i32>(at + 12), weights, x + 3, taps);
      const ab = f32x4.add(v128.shuffle<f32>(a, b, 0, 4, 1, 5), v128.shuffle<f32>(a, b, 2, 6, 3, 7));
      const cd = f32x4.add(v128.shuffle<f32>(c, d, 0, 4, 1, 5), v128.shuffle<f32>(c, d, 2, 6, 3, 7));
      v128.store(to + (x << 2), f32x4.add(v128.shuffle<f64>(ab, cd, 0, 2), v128.shuffle<f64>(ab, cd, 1, 3)));
    }
    for (; x < outWidth; x++) {
      const sum = weighed(padded, load<i32>(starts + (x << 2)), weights, x, taps);
      const pair = f32x4.add(sum, v128.shuffle<f32>(sum, sum, 2, 3, 2, 3));
      store<f32>(to + (x << 2), f32x4.extract_lane(pair, 0) + f32x4.extract_lane(pair, 1));
    }
  }
}

/** Weighed samples of one output, in four lanes to be added. */
@inline
function weighed(line: usize, start: i32, weights: usize, x: i32, taps: i32): v128 {
  const p = line + (start << 2), w = weights + ((x * taps) << 2);
  let sum = f32x4.mul(v128.load(p), v128.load(w));
  for (let k = 4; k < taps; k += 4) sum = f32x4.add(sum, f32x4.mul(v128.load(p + (k << 2)), v128.load(w + (k << 2))));
  return sum;
}

/**
 * Pulls each output sample back between the smallest and largest of the four source samples round it, give or take
 * `slack` of their spread. `lines` holds 2 x outWidth + 2 x (width + 1) floats: the bounds of a row, which several output rows
 * share, and of the source's samples.
 */
export function limitRinging(
  src: usize, width: i32, height: i32, columns: usize, rows: usize, outWidth: i32, outHeight: i32, slack: f32, lines: usize, data: usize,
): void {
  const high = lines + (outWidth << 2), bounds = high + (outWidth << 2);
  let built = i32.MIN_VALUE;
  for (let y = 0; y < outHeight; y++) {
    const y0 = load<i32>(rows + (y << 2));
    if (y0 != built) {
      built = y0;
      const top = src + ((min(height - 1, max(0, y0)) * width) << 2);
      const low = src + ((min(height - 1, max(0, y0 + 1)) * width) << 2);
      sourceBounds(top, low, width, slack, bounds);
      for (let x = 0; x < outWidth; x++) {
        // Left of the first sample there is only that one; its bounds stand before the others.
        const c = min(width - 1, max(-1, load<i32>(columns + (x << 2)))) + 1;
        store<f32>(lines + (x << 2), load<f32>(bounds + (c << 2)));
        store<f32>(high + (x << 2), load<f32>(bounds + ((width + 1 + c) << 2)));
      }
    }
    const row = data + ((y * outWidth) << 2);
    let x = 0;
    for (; x + 4 <= outWidth; x += 4) {
      const p = row + (x << 2);
      v128.store(p, f32x4.min(v128.load(high + (x << 2)), f32x4.max(v128.load(lines + (x << 2)), v128.load(p))));
    }
    for (; x < outWidth; x++) {
      const p = row + (x << 2);
      store<f32>(p, min(load<f32>(high + (x << 2)), max(load<f32>(lines + (x << 2)), load<f32>(p))));
    }
  }
}

/** Lower, then upper bounds for the places left of the first sample and right of each, from two rows of the source. */
function sourceBounds(top: usize, low: usize, width: i32, slack: f32, bounds: usize): void {
  const upper = bounds + ((width + 1) << 2);
  putBounds(load<f32>(top), load<f32>(top), load<f32>(low), load<f32>(low), slack, bounds, upper);
  let x = 0;
  for (; x + 5 <= width; x += 4) {
    const o = x << 2;
    const a = v128.load(top + o), b = v128.load(top + o + 4), d = v128.load(low + o), e = v128.load(low + o + 4);
    const least = f32x4.min(f32x4.min(a, b), f32x4.min(d, e)), most = f32x4.max(f32x4.max(a, b), f32x4.max(d, e));
    const give = f32x4.mul(f32x4.sub(most, least), f32x4.splat(slack));
    v128.store(bounds + 4 + o, f32x4.sub(least, give));
    v128.store(upper + 4 + o, f32x4.add(most, give));
  }
  for (; x < width; x++) {
    const o = x << 2, next = min(x + 1, width - 1) << 2;
    putBounds(load<f32>(top + o), load<f32>(top + next), load<f32>(low + o), load<f32>(low + next), slack, bounds + 4 + o, upper + 4 + o);
  }
}

@inline
function putBounds(a: f32, b: f32, d: f32, e: f32, slack: f32, lower: usize, upper: usize): void {
  const least = min(min(a, b), min(d, e)), most = max(max(a, b), max(d, e));
  const give = (most - least) * slack;
  store<f32>(lower, least - give);
  store<f32>(upper, most + give);
}

/** `data` += `gain` x `other`. */
export function addScaled(data: usize, other: usize, gain: f32, count: i32): void {
  const g = f32x4.splat(gain);
  for (let i = 0; i < count; i += 4) {
    const p = data + (i << 2);
    v128.store(p, f32x4.add(v128.load(p), f32x4.mul(g, v128.load(other + (i << 2)))));
  }
}

/** `dst` = `a` - `b`. */
export function subtract(a: usize, b: usize, count: i32, dst: usize): void {
  for (let i = 0; i < count; i += 4) v128.store(dst + (i << 2), f32x4.sub(v128.load(a + (i << 2)), v128.load(b + (i << 2))));
}
