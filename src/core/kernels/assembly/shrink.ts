// Grain removal in overlapping 8 x 8 cosine windows, over time and space. Explained in ../reference/shrink.ts.

const SIZE: i32 = 8;
const ROW: usize = 32;
/** Bytes. */
const BLOCK: usize = 256;

@inline
function mul(a: v128, k: f32): v128 {
  return f32x4.mul(a, f32x4.splat(k));
}

/**
 * Cosine transform of four lines of eight floats, side by side in the eight vectors from `src` on, scaled by `spectrumScale` of
 * ../reference/windows.ts, which leaves five multiplications (Arai, Agui and Nakajima, 1988).
 */
@inline
function forward(src: usize, p: usize): void {
  const x0 = v128.load(src), x1 = v128.load(src, ROW), x2 = v128.load(src, 2 * ROW), x3 = v128.load(src, 3 * ROW);
  const x4 = v128.load(src, 4 * ROW), x5 = v128.load(src, 5 * ROW), x6 = v128.load(src, 6 * ROW), x7 = v128.load(src, 7 * ROW);
  const s0 = f32x4.add(x0, x7), s1 = f32x4.add(x1, x6), s2 = f32x4.add(x2, x5), s3 = f32x4.add(x3, x4);
  const d0 = f32x4.sub(x0, x7), d1 = f32x4.sub(x1, x6), d2 = f32x4.sub(x2, x5), d3 = f32x4.sub(x3, x4);
  const t0 = f32x4.add(s0, s3), t1 = f32x4.add(s1, s2), t2 = f32x4.sub(s1, s2), t3 = f32x4.sub(s0, s3);
  const even = mul(f32x4.add(t2, t3), 0.70710678);
  v128.store(p, f32x4.add(t0, t1));
  v128.store(p, f32x4.sub(t0, t1), 4 * ROW);
  v128.store(p, f32x4.add(t3, even), 2 * ROW);
  v128.store(p, f32x4.sub(t3, even), 6 * ROW);
  const u0 = f32x4.add(d3, d2), u1 = f32x4.add(d2, d1), u2 = f32x4.add(d1, d0);
  const turn = mul(f32x4.sub(u0, u2), 0.38268343);
  const z2 = f32x4.add(mul(u0, 0.5411961), turn), z4 = f32x4.add(mul(u2, 1.306563), turn), z3 = mul(u1, 0.70710678);
  const high = f32x4.add(d0, z3), low = f32x4.sub(d0, z3);
  v128.store(p, f32x4.add(low, z2), 5 * ROW);
  v128.store(p, f32x4.sub(low, z2), 3 * ROW);
  v128.store(p, f32x4.add(high, z4), ROW);
  v128.store(p, f32x4.sub(high, z4), 7 * ROW);
}

/** The inverse cosine transform of the columns at `p`, in place, 8 times too large. */
@inline
function inverse(p: usize): void {
  const y0 = v128.load(p), y1 = v128.load(p, ROW), y2 = v128.load(p, 2 * ROW), y3 = v128.load(p, 3 * ROW);
  const y4 = v128.load(p, 4 * ROW), y5 = v128.load(p, 5 * ROW), y6 = v128.load(p, 6 * ROW), y7 = v128.load(p, 7 * ROW);
  const t0 = f32x4.add(y0, y4), t1 = f32x4.sub(y0, y4), t3 = f32x4.add(y2, y6);
  const t2 = f32x4.sub(mul(f32x4.sub(y2, y6), 1.41421356), t3);
  const s0 = f32x4.add(t0, t3), s3 = f32x4.sub(t0, t3), s1 = f32x4.add(t1, t2), s2 = f32x4.sub(t1, t2);
  const z13 = f32x4.add(y5, y3), z10 = f32x4.sub(y5, y3), z11 = f32x4.add(y1, y7), z12 = f32x4.sub(y1, y7);
  const turn = mul(f32x4.add(z10, z12), 1.84775907);
  const d0 = f32x4.add(z11, z13);
  const d1 = f32x4.sub(f32x4.sub(turn, mul(z10, 2.61312593)), d0);
  const d2 = f32x4.sub(mul(f32x4.sub(z11, z13), 1.41421356), d1);
  const d3 = f32x4.sub(f32x4.sub(turn, mul(z12, 1.0823922)), d2);
  v128.store(p, f32x4.add(s0, d0));
  v128.store(p, f32x4.sub(s0, d0), 7 * ROW);
  v128.store(p, f32x4.add(s1, d1), ROW);
  v128.store(p, f32x4.sub(s1, d1), 6 * ROW);
  v128.store(p, f32x4.add(s2, d2), 2 * ROW);
  v128.store(p, f32x4.sub(s2, d2), 5 * ROW);
  v128.store(p, f32x4.add(s3, d3), 3 * ROW);
  v128.store(p, f32x4.sub(s3, d3), 4 * ROW);
}

/** Transposes the 4 x 4 floats at `a` into `b` and those at `b` into `a`. */
@inline
function swapTransposed(a: usize, b: usize): void {
  const a0 = v128.load(a), a1 = v128.load(a, ROW), a2 = v128.load(a, 2 * ROW), a3 = v128.load(a, 3 * ROW);
  const b0 = v128.load(b), b1 = v128.load(b, ROW), b2 = v128.load(b, 2 * ROW), b3 = v128.load(b, 3 * ROW);
  storeTransposed(b, a0, a1, a2, a3);
  storeTransposed(a, b0, b1, b2, b3);
}

@inline
function storeTransposed(p: usize, r0: v128, r1: v128, r2: v128, r3: v128): void {
  const l01 = v128.shuffle<f32>(r0, r1, 0, 4, 1, 5), h01 = v128.shuffle<f32>(r0, r1, 2, 6, 3, 7);
  const l23 = v128.shuffle<f32>(r2, r3, 0, 4, 1, 5), h23 = v128.shuffle<f32>(r2, r3, 2, 6, 3, 7);
  v128.store(p, v128.shuffle<f64>(l01, l23, 0, 2));
  v128.store(p, v128.shuffle<f64>(l01, l23, 1, 3), ROW);
  v128.store(p, v128.shuffle<f64>(h01, h23, 0, 2), 2 * ROW);
  v128.store(p, v128.shuffle<f64>(h01, h23, 1, 3), 3 * ROW);
}

@inline
function transpose(p: usize): void {
  swapTransposed(p, p);
  swapTransposed(p + 16, p + 4 * ROW);
  swapTransposed(p + 4 * ROW + 16, p + 4 * ROW + 16);
}

/** A block of rows into coefficients, those of one column frequency side by side. */
function transform(p: usize): void {
  forward(p, p);
  forward(p + 16, p + 16);
  transpose(p);
  forward(p, p);
  forward(p + 16, p + 16);
}

@inline
function loadBlock(src: usize, stride: i32, to: usize): void {
  for (let y = 0; y < SIZE; y++) {
    const s = v128.load(src);
    v128.store(to, f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(s)));
    v128.store(to + 16, f32x4.convert_i32x4_u(i32x4.extend_high_i16x8_u(s)));
    src += stride << 1;
    to += ROW;
  }
}

/** 16-bit copy of a plane with `margin`, a multiple of 8, replicated samples on every side. */
export function padPlane(src: usize, width: i32, height: i32, margin: i32, dst: usize): void {
  const stride = width + 2 * margin;
  for (let y = -margin; y < height + margin; y++) {
    const sy = min(height - 1, max(0, y));
    const from = src + ((sy * width) << 1);
    const row = dst + (((y + margin) * stride) << 1);
    memory.copy(row + (margin << 1), from, width << 1);
    const left = v128.load16_splat(from), right = v128.load16_splat(from + ((width - 1) << 1));
    for (let m = 0; m < margin; m += 8) {
      v128.store(row + (m << 1), left);
      v128.store(row + ((margin + width + m) << 1), right);
    }
  }
}

/**
 * Stores four coefficients times M^4 / (M^4 + T^4), `limit` being T^4, and adds the squares of these gains to `energy`. The one in
 * the sum keeps flat places from 0 / 0.
 */
@inline
function shrunk(to: usize, m: v128, limit: v128, energy: v128): v128 {
  const power = f32x4.mul(m, m), square = f32x4.mul(power, power);
  const gain = f32x4.div(square, f32x4.add(f32x4.add(square, limit), f32x4.splat(1)));
  v128.store(to, f32x4.mul(m, gain));
  return f32x4.add(energy, f32x4.mul(gain, gain));
}

/**
 * The samples of eight rows from `src` on, transformed down each column: `columns` times eight coefficients side by side. Windows that
 * start in the same row share them.
 */
function transformColumns(src: usize, stride: i32, columns: i32, strip: usize, block: usize): void {
  for (let x = 0; x < columns; x += 4) {
    let from = src + (x << 1);
    for (let y: usize = 0; y < BLOCK; y += ROW) {
      v128.store(block + y, f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(from))));
      from += stride << 1;
    }
    forward(block, block);
    const to = strip + <usize>x * ROW;
    turnIn(block, to);
    turnIn(block + 4 * ROW, to + 16);
  }
}

/** Four rows of four floats at `from` into four columns at `to`. */
@inline
function turnIn(from: usize, to: usize): void {
  storeTransposed(to, v128.load(from), v128.load(from, ROW), v128.load(from, 2 * ROW), v128.load(from, 3 * ROW));
}

/** A window's column added to what its column was given, and to the weights. */
@inline
function addLine(to: usize, from: usize, weightTo: usize, bell: f32, scaled: f32, weight: f32): void {
  const share = f32x4.splat(scaled * bell);
  v128.store(to, f32x4.add(v128.load(to), f32x4.mul(share, v128.load(from))));
  v128.store(to, f32x4.add(v128.load(to, 16), f32x4.mul(share, v128.load(from, 16))), 16);
  store<f32>(weightTo, load<f32>(weightTo) + weight * bell);
}

/** What windows gave to columns, back to samples: added under the window's bell to eight rows of sums, and their weights to those of weights. */
function addColumns(strip: usize, line: usize, columns: i32, bell: usize, sums: usize, weights: usize, sumStride: i32, block: usize): void {
  for (let x = 0; x < columns; x += 4) {
    const from = strip + <usize>x * ROW;
    turnIn(from, block);
    turnIn(from + 16, block + 4 * ROW);
    inverse(block);
    const weight = v128.load(line + (x << 2));
    for (let y = 0; y < SIZE; y++) {
      const share = f32x4.splat(load<f32>(bell + (y << 2)));
      const at = (y * sumStride + x) << 2;
      v128.store(sums + at, f32x4.add(v128.load(sums + at), f32x4.mul(share, v128.load(block + y * ROW))));
      v128.store(weights + at, f32x4.add(v128.load(weights + at), f32x4.mul(share, weight)));
    }
  }
}

/**
 * Shrinks one plane. `planes` and `vectors` are lists of `others` + 1 and `others` addresses; planes are padded by
 * `margin`, the first is the one to clean. Windows start every `step` samples. `sums` holds 2 x `sumStride` x (height + 16) floats,
 * zeroed here, `sumStride` being width + 16 rounded up to a multiple of 4; `strips` 17 x `sumStride` floats; `spectrum` the noise power of
 * each scaled coefficient against `sigma` squared; `bell` the 8 weights across a window; `scratch` a block for each frame and one more. `levels` says
 * how much of that power each motion block has, 0 for all of it everywhere; `keep` is the share of the plane `original`, without margins,
 * in the result.
 */
export function shrinkPlane(
  planes: usize, vectors: usize, others: i32, width: i32, height: i32, margin: i32, step: i32,
  columns: i32, rows: i32, blockWidth: i32, blockHeight: i32,
  sigma: f32, levels: usize, spectrum: usize, trust: f32, threshold: f32, keep: f32, original: usize, bell: usize, sums: usize,
  strips: usize, scratch: usize, out: usize,
): void {
  const stride = width + 2 * margin;
  const sumStride = (width + 19) & ~3;
  const count: f32 = <f32>(others + 1);
  const weights = sums + ((sumStride * (height + 16)) << 2);
  memory.fill(sums, 0, (sumStride * (height + 16)) << 3);
  const variance = sigma * sigma;
  const base = load<u32>(planes);
  const block = scratch + 64;
  const given = strips + sumStride * ROW, line = given + sumStride * ROW;
  const wholeLimit = threshold * threshold * variance, wholeTolerance = variance * trust;
  const share = f32x4.splat(1 / count), one = f32x4.splat(1);
  const squares = scratch + 64 + <usize>(others + 1) * BLOCK;
  for (let i: usize = 0; i < BLOCK; i += 16) {
    const l = f32x4.mul(f32x4.splat(wholeLimit), v128.load(spectrum + i));
    v128.store(squares + i, f32x4.mul(l, l));
  }
  for (let wy = step - 8; wy < height; wy += step) {
    transformColumns(base + (((wy + margin) * stride + margin - 8) << 1), stride, sumStride, strips, block);
    memory.fill(given, 0, sumStride * (ROW + 4));
    const blockRow = min(rows - 1, max(0, (wy + 4) / blockHeight)) * columns;
    for (let wx = step - 8; wx < width; wx += step) {
      const at = ((wy + margin) * stride + wx + margin) << 1;
      const column = strips + (wx + 8) * ROW;
      forward(column, block);
      forward(column + 16, block + 16);
      const motionBlock = others > 0 || levels ? (blockRow + min(columns - 1, max(0, (wx + 4) / blockWidth))) << 2 : 0;
      if (others > 0) loadOthers(planes, vectors, others, at, stride, motionBlock, block + BLOCK);
      const level = levels ? load<f32>(levels + motionBlock) : <f32>1;
      const limit = wholeLimit * level, tolerance = wholeTolerance * level;
      let energy = f32x4.splat(0);
      let mean = load<f32>(block);
      if (others == 0) {
        const scale = f32x4.splat(level * level);
        for (let i: usize = 0; i < BLOCK; i += 16) energy = shrunk(block + i, v128.load(block + i), f32x4.mul(scale, v128.load(squares + i)), energy);
      } else {
        for (let i: usize = 0; i < BLOCK; i += 16) {
          // A frame counts, coefficient by coefficient, as far as it agrees with the one to clean, which fills its place
          // for the rest. `noise` is the noise power of the sum in units of one frame's.
          const shape = v128.load(spectrum + i), own = v128.load(block + i);
          const soft = f32x4.add(f32x4.mul(f32x4.splat(tolerance), shape), one);
          let m = own, noise = f32x4.splat(0), parts = one;
          for (let n = 1; n <= others; n++) {
            const other = v128.load(block + <usize>n * BLOCK + i);
            const d = f32x4.sub(own, other), d2 = f32x4.mul(d, d);
            const apart = f32x4.div(d2, f32x4.add(d2, soft));
            m = f32x4.add(m, f32x4.add(other, f32x4.mul(apart, d)));
            const near = f32x4.sub(one, apart);
            noise = f32x4.add(noise, f32x4.mul(near, near));
            parts = f32x4.add(parts, apart);
          }
          m = f32x4.mul(m, share);
          const left = f32x4.mul(f32x4.add(noise, f32x4.mul(parts, parts)), f32x4.mul(share, share));
          const l = f32x4.mul(f32x4.mul(f32x4.splat(limit), shape), left);
          if (i == 0) mean = f32x4.extract_lane(m, 0);
          energy = shrunk(block + i, m, f32x4.mul(l, l), energy);
        }
      }
      store<f32>(block, mean);
      const total = f32x4.extract_lane(energy, 0) + f32x4.extract_lane(energy, 1) + f32x4.extract_lane(energy, 2) + f32x4.extract_lane(energy, 3);
      inverse(block);
      inverse(block + 16);
      // Both passes back are 8 times too large.
      const weight: f32 = 1 / (1 + total), scaled = weight * <f32>(1.0 / 64);
      const to = given + (wx + 8) * ROW, weightTo = line + ((wx + 8) << 2);
      for (let x: usize = 0; x < 8; x += 2) {
        addLine(to + x * ROW, block + x * ROW, weightTo + (x << 2), load<f32>(bell + (x << 2)), scaled, weight);
        addLine(to + x * ROW + ROW, block + x * ROW + ROW, weightTo + (x << 2) + 4, load<f32>(bell + (x << 2), 4), scaled, weight);
      }
    }
    const sumAt = ((wy + 8) * sumStride) << 2;
    addColumns(given, line, sumStride, bell, sums + sumAt, weights + sumAt, sumStride, block);
  }
  for (let y = 0; y < height; y++) {
    const row = ((y + 8) * sumStride + 8) << 2;
    const was = original + ((y * width) << 1), to = out + ((y * width) << 1);
    for (let x = 0; x < width; x += 8) {
      const at = row + (x << 2);
      const low = mixed(sums + at, weights + at, i32x4.extend_low_i16x8_u(v128.load(was + (x << 1))), keep);
      const high = mixed(sums + at + 16, weights + at + 16, i32x4.extend_high_i16x8_u(v128.load(was + (x << 1))), keep);
      const eight = i16x8.narrow_i32x4_u(low, high);
      if (width - x >= 8) v128.store(to + (x << 1), eight);
      else {
        v128.store(block, eight);
        memory.copy(to + (x << 1), block, (width - x) << 1);
      }
    }
  }
}

/** Four clean samples, mixed with a share of what was. */
@inline
function mixed(sums: usize, weights: usize, original: v128, keep: f32): v128 {
  const clean = f32x4.div(v128.load(sums), v128.load(weights)), was = f32x4.convert_i32x4_u(original);
  const v = f32x4.add(clean, f32x4.mul(f32x4.splat(keep), f32x4.sub(was, clean)));
  return i32x4.trunc_sat_f32x4_s(f32x4.floor(f32x4.add(v, f32x4.splat(0.5))));
}

/** Spectra of the motion-aligned blocks of the other frames, one after the other; `vector` is the place of the block's in each field. */
@inline
function loadOthers(planes: usize, vectors: usize, others: i32, at: usize, stride: i32, vector: usize, to: usize): void {
  for (let n = 0; n < others; n++) {
    const field = load<u32>(vectors + (n << 2)) + vector;
    const vx = <i32>load<i16>(field), vy = <i32>load<i16>(field + 2);
    loadBlock(load<u32>(planes + ((n + 1) << 2)) + at - ((vy * stride + vx) << 1), stride, to);
    transform(to);
    to += BLOCK;
  }
}
