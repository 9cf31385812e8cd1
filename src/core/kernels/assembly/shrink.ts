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
 * Cosine transform down four columns of an 8 x 8 block of floats, scaled by `spectrumScale` of ../reference/windows.ts, which
 * leaves five multiplications (Arai, Agui and Nakajima, 1988).
 */
@inline
function forward(p: usize): void {
  const x0 = v128.load(p), x1 = v128.load(p + ROW), x2 = v128.load(p + 2 * ROW), x3 = v128.load(p + 3 * ROW);
  const x4 = v128.load(p + 4 * ROW), x5 = v128.load(p + 5 * ROW), x6 = v128.load(p + 6 * ROW), x7 = v128.load(p + 7 * ROW);
  const s0 = f32x4.add(x0, x7), s1 = f32x4.add(x1, x6), s2 = f32x4.add(x2, x5), s3 = f32x4.add(x3, x4);
  const d0 = f32x4.sub(x0, x7), d1 = f32x4.sub(x1, x6), d2 = f32x4.sub(x2, x5), d3 = f32x4.sub(x3, x4);
  const t0 = f32x4.add(s0, s3), t1 = f32x4.add(s1, s2), t2 = f32x4.sub(s1, s2), t3 = f32x4.sub(s0, s3);
  const even = mul(f32x4.add(t2, t3), 0.70710678);
  v128.store(p, f32x4.add(t0, t1));
  v128.store(p + 4 * ROW, f32x4.sub(t0, t1));
  v128.store(p + 2 * ROW, f32x4.add(t3, even));
  v128.store(p + 6 * ROW, f32x4.sub(t3, even));
  const u0 = f32x4.add(d3, d2), u1 = f32x4.add(d2, d1), u2 = f32x4.add(d1, d0);
  const turn = mul(f32x4.sub(u0, u2), 0.38268343);
  const z2 = f32x4.add(mul(u0, 0.5411961), turn), z4 = f32x4.add(mul(u2, 1.306563), turn), z3 = mul(u1, 0.70710678);
  const high = f32x4.add(d0, z3), low = f32x4.sub(d0, z3);
  v128.store(p + 5 * ROW, f32x4.add(low, z2));
  v128.store(p + 3 * ROW, f32x4.sub(low, z2));
  v128.store(p + ROW, f32x4.add(high, z4));
  v128.store(p + 7 * ROW, f32x4.sub(high, z4));
}

/** And back, 8 times too large. */
@inline
function inverse(p: usize): void {
  const y0 = v128.load(p), y1 = v128.load(p + ROW), y2 = v128.load(p + 2 * ROW), y3 = v128.load(p + 3 * ROW);
  const y4 = v128.load(p + 4 * ROW), y5 = v128.load(p + 5 * ROW), y6 = v128.load(p + 6 * ROW), y7 = v128.load(p + 7 * ROW);
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
  v128.store(p + 7 * ROW, f32x4.sub(s0, d0));
  v128.store(p + ROW, f32x4.add(s1, d1));
  v128.store(p + 6 * ROW, f32x4.sub(s1, d1));
  v128.store(p + 2 * ROW, f32x4.add(s2, d2));
  v128.store(p + 5 * ROW, f32x4.sub(s2, d2));
  v128.store(p + 3 * ROW, f32x4.add(s3, d3));
  v128.store(p + 4 * ROW, f32x4.sub(s3, d3));
}

/** Transposes the 4 x 4 floats at `a` into `b` and those at `b` into `a`. */
@inline
function swapTransposed(a: usize, b: usize): void {
  const a0 = v128.load(a), a1 = v128.load(a + ROW), a2 = v128.load(a + 2 * ROW), a3 = v128.load(a + 3 * ROW);
  const b0 = v128.load(b), b1 = v128.load(b + ROW), b2 = v128.load(b + 2 * ROW), b3 = v128.load(b + 3 * ROW);
  storeTransposed(b, a0, a1, a2, a3);
  storeTransposed(a, b0, b1, b2, b3);
}

@inline
function storeTransposed(p: usize, r0: v128, r1: v128, r2: v128, r3: v128): void {
  const l01 = v128.shuffle<f32>(r0, r1, 0, 4, 1, 5), h01 = v128.shuffle<f32>(r0, r1, 2, 6, 3, 7);
  const l23 = v128.shuffle<f32>(r2, r3, 0, 4, 1, 5), h23 = v128.shuffle<f32>(r2, r3, 2, 6, 3, 7);
  v128.store(p, v128.shuffle<f64>(l01, l23, 0, 2));
  v128.store(p + ROW, v128.shuffle<f64>(l01, l23, 1, 3));
  v128.store(p + 2 * ROW, v128.shuffle<f64>(h01, h23, 0, 2));
  v128.store(p + 3 * ROW, v128.shuffle<f64>(h01, h23, 1, 3));
}

@inline
function transpose(p: usize): void {
  swapTransposed(p, p);
  swapTransposed(p + 16, p + 4 * ROW);
  swapTransposed(p + 4 * ROW + 16, p + 4 * ROW + 16);
}

function transform(p: usize): void {
  forward(p);
  forward(p + 16);
  transpose(p);
  forward(p);
  forward(p + 16);
}

function transformBack(p: usize): void {
  inverse(p);
  inverse(p + 16);
  transpose(p);
  inverse(p);
  inverse(p + 16);
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
 * Shrinks one plane. `planes` and `vectors` are lists of `others` + 1 and `others` addresses; planes are padded by
 * `margin`, the first is the one to clean. Windows start every `step` samples. `sums` holds 2 x (width + 16) x
 * (height + 16) floats, zeroed here; `spectrum` the noise power of each scaled coefficient
 * against `sigma` squared, `weightTable` 64 floats; `scratch` a block for each frame. `levels` says how much of that power each
 * motion block has, 0 for all of it everywhere; `keep` is the share of the plane `original`, without margins, in the result.
 */
export function shrinkPlane(
  planes: usize, vectors: usize, others: i32, width: i32, height: i32, margin: i32, step: i32,
  columns: i32, rows: i32, blockWidth: i32, blockHeight: i32,
  sigma: f32, levels: usize, spectrum: usize, trust: f32, threshold: f32, keep: f32, original: usize, weightTable: usize, sums: usize,
  scratch: usize, out: usize,
): void {
  const stride = width + 2 * margin;
  const sumStride = width + 16;
  const count: f32 = <f32>(others + 1);
  const weights = sums + ((sumStride * (height + 16)) << 2);
  memory.fill(sums, 0, (sumStride * (height + 16)) << 3);
  const variance = sigma * sigma;
  const base = load<u32>(planes);
  const block = scratch + 64;
  const wholeLimit = threshold * threshold * variance, wholeTolerance = variance * trust;
  const share = f32x4.splat(1 / count), one = f32x4.splat(1);
  for (let wy = step - 8; wy < height; wy += step) {
    for (let wx = step - 8; wx < width; wx += step) {
      const at = ((wy + margin) * stride + wx + margin) << 1;
      loadBlock(base + at, stride, block);
      transform(block);
      const bx = min(columns - 1, max(0, (wx + 4) / blockWidth)), by = min(rows - 1, max(0, (wy + 4) / blockHeight));
      if (others > 0) loadOthers(planes, vectors, others, at, stride, (by * columns + bx) << 2, block + BLOCK);
      const level = levels ? load<f32>(levels + ((by * columns + bx) << 2)) : <f32>1;
      const limit = wholeLimit * level, tolerance = wholeTolerance * level;
      // Gain M^4 / (M^4 + limit^2 spread^2) against the noise left in each coefficient; the mean stays.
      let energy = f32x4.splat(0);
      let mean: f32 = 0;
      for (let i: usize = 0; i < BLOCK; i += 16) {
        const shape = v128.load(spectrum + i);
        let m = v128.load(block + i);
        let l = f32x4.mul(f32x4.splat(limit), shape);
        if (others > 0) {
          // A frame counts, coefficient by coefficient, as far as it agrees with the one to clean, which fills its place
          // for the rest. `noise` is the noise power of the sum in units of one frame's.
          const own = m, soft = f32x4.add(f32x4.mul(f32x4.splat(tolerance), shape), one);
          let noise = f32x4.splat(0), parts = one;
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
          l = f32x4.mul(l, f32x4.mul(f32x4.add(noise, f32x4.mul(parts, parts)), f32x4.mul(share, share)));
        }
        if (i == 0) mean = f32x4.extract_lane(m, 0);
        const power = f32x4.mul(m, m);
        const square = f32x4.mul(power, power);
        const gain = f32x4.div(square, f32x4.add(f32x4.add(square, f32x4.mul(l, l)), one));
        energy = f32x4.add(energy, f32x4.mul(gain, gain));
        v128.store(block + i, f32x4.mul(m, gain));
      }
      store<f32>(block, mean);
      const total = f32x4.extract_lane(energy, 0) + f32x4.extract_lane(energy, 1) + f32x4.extract_lane(energy, 2) + f32x4.extract_lane(energy, 3);
      transformBack(block);
      // Both passes back were 8 times too large.
      const weight = f32x4.splat(1 / (1 + total)), scaled = mul(weight, 1.0 / 64);
      const sumAt = ((wy + 8) * sumStride + wx + 8) << 2;
      for (let y = 0; y < SIZE; y++) {
        for (let h = 0; h < 32; h += 16) {
          const bell = v128.load(weightTable + (y << 5) + h);
          const p = sums + sumAt + ((y * sumStride) << 2) + h, q = weights + sumAt + ((y * sumStride) << 2) + h;
          v128.store(p, f32x4.add(v128.load(p), f32x4.mul(f32x4.mul(scaled, bell), v128.load(block + (y << 5) + h))));
          v128.store(q, f32x4.add(v128.load(q), f32x4.mul(weight, bell)));
        }
      }
    }
  }
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const s = ((y + 8) * sumStride + x + 8) << 2;
      const was = <f32>load<u16>(original + ((y * width + x) << 1));
      const clean = load<f32>(sums + s) / load<f32>(weights + s);
      const v = clean + keep * (was - clean) + 0.5;
      store<u16>(out + ((y * width + x) << 1), <u16>min<f32>(65535, max<f32>(0, v)));
    }
  }
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
