// Interleaved R'G'B' from and to planes of Y'CbCr; the references are in ../reference/rgb.ts, and both give the same to the last bit.

const NEUTRAL: f64 = 32768;

@inline
function held(v: f64): u16 {
  return <u16>(v <= 0 ? 0 : v >= 65535 ? 65535 : <i32>(v + 0.5));
}

@inline
function sample(from: usize, n: usize, wide: bool): f64 {
  return wide ? <f64>load<u16>(from + (n << 1)) : <f64>((<i32>load<u8>(from + n)) * 257);
}

/**
 * Planes of `count` interleaved pixels.
 *
 * @param wide whether samples have 16 bits; those of 8 are widened.
 * @param matrix nine doubles that make Y', Cb and Cr of R', G' and B'.
 */
export function planesOfRgb(from: usize, wide: bool, count: i32, matrix: usize, luma: usize, cb: usize, cr: usize): void {
  const yr = load<f64>(matrix),
    yg = load<f64>(matrix, 8),
    yb = load<f64>(matrix, 16),
    br = load<f64>(matrix, 24),
    bg = load<f64>(matrix, 32),
    bb = load<f64>(matrix, 40),
    rr = load<f64>(matrix, 48),
    rg = load<f64>(matrix, 56),
    rb = load<f64>(matrix, 64);
  for (let i: usize = 0, s: usize = 0; i < <usize>count; i++, s += 3) {
    const r = sample(from, s, wide),
      g = sample(from, s + 1, wide),
      b = sample(from, s + 2, wide);
    store<u16>(luma + (i << 1), held(yr * r + yg * g + yb * b));
    store<u16>(cb + (i << 1), held(NEUTRAL + br * r + bg * g + bb * b));
    store<u16>(cr + (i << 1), held(NEUTRAL + rr * r + rg * g + rb * b));
  }
}

/** Two samples side by side. */
@inline
function pair(at: usize): v128 {
  return f64x2.convert_low_i32x4_u(i32x4.extend_low_i16x8_u(v128.load32_zero(at)));
}

/** Two values between 0 and `peak`, rounded. */
@inline
function heldPair(v: v128, peak: v128): v128 {
  return i32x4.trunc_sat_f64x2_u_zero(f64x2.add(f64x2.min(f64x2.max(v, f64x2.splat(0)), peak), f64x2.splat(0.5)));
}

@inline
function put(out: usize, n: usize, v: i32, wide: bool): void {
  if (wide) store<u16>(out + (n << 1), <u16>v);
  else store<u8>(out + n, <u8>v);
}

/**
 * Interleaved pixels of `count` samples of planes of one size; an odd count reads one sample more and writes one pixel more.
 *
 * @param wide whether they get 16 bits, or 8.
 * @param figures doubles: the luma of black, the gains of luma and of chroma, what red has of Cr, green of Cb and of Cr, blue of Cb.
 */
export function rgbOfPlanes(luma: usize, cb: usize, cr: usize, count: i32, figures: usize, wide: bool, out: usize): void {
  const black = f64x2.splat(load<f64>(figures)),
    gainY = f64x2.splat(load<f64>(figures, 8)),
    gainC = f64x2.splat(load<f64>(figures, 16)),
    rr = f64x2.splat(load<f64>(figures, 24)),
    gb = f64x2.splat(load<f64>(figures, 32)),
    gr = f64x2.splat(load<f64>(figures, 40)),
    bb = f64x2.splat(load<f64>(figures, 48));
  const neutral = f64x2.splat(NEUTRAL),
    peak = f64x2.splat(wide ? 65535 : 255);
  for (let i: usize = 0, n: usize = 0; i < <usize>count; i += 2, n += 6) {
    const l = f64x2.mul(f64x2.sub(pair(luma + (i << 1)), black), gainY),
      b = f64x2.mul(f64x2.sub(pair(cb + (i << 1)), neutral), gainC),
      r = f64x2.mul(f64x2.sub(pair(cr + (i << 1)), neutral), gainC);
    const red = heldPair(f64x2.add(l, f64x2.mul(rr, r)), peak),
      green = heldPair(f64x2.add(f64x2.add(l, f64x2.mul(gb, b)), f64x2.mul(gr, r)), peak),
      blue = heldPair(f64x2.add(l, f64x2.mul(bb, b)), peak);
    put(out, n, i32x4.extract_lane(red, 0), wide);
    put(out, n + 1, i32x4.extract_lane(green, 0), wide);
    put(out, n + 2, i32x4.extract_lane(blue, 0), wide);
    put(out, n + 3, i32x4.extract_lane(red, 1), wide);
    put(out, n + 4, i32x4.extract_lane(green, 1), wide);
    put(out, n + 5, i32x4.extract_lane(blue, 1), wide);
  }
}
