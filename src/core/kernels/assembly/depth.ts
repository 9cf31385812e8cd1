// Samples between the 16 bits of the core and the depth of a file. The explanation is in ../depth.ts.

/** 16-bit codes at `depth` bits: bytes for 8, else 16-bit words. */
export function narrowCodes(src: usize, count: i32, depth: i32, full: bool, dst: usize): void {
  const step: i32 = 1 << (16 - depth);
  const half = i16x8.splat(<i16>(step >> 1));
  const top = i32x4.splat((1 << depth) - 1);
  for (let i = 0; i < count; i += 8) {
    const codes = v128.load(src + (i << 1));
    const narrow = full
      ? i16x8.narrow_i32x4_u(share(i32x4.extend_low_i16x8_u(codes), top), share(i32x4.extend_high_i16x8_u(codes), top))
      : i16x8.shr_u(i16x8.add_sat_u(codes, half), 16 - depth);
    if (depth == 8) v128.store64_lane(dst + i, i8x16.narrow_i16x8_u(narrow, narrow), 0);
    else v128.store(dst + (i << 1), narrow);
  }
}

/** Codes of 65535 as codes of `top`, rounded; the division is exact for what comes here (Granlund and Montgomery, 1994). */
@inline
function share(codes: v128, top: v128): v128 {
  const next = i32x4.add(i32x4.mul(codes, top), i32x4.splat(32768));
  return i32x4.shr_u(i32x4.add(next, i32x4.shr_u(next, 16)), 16);
}

/** Bytes as 16-bit codes. */
export function widenBytes(src: usize, count: i32, full: bool, dst: usize): void {
  for (let i = 0; i < count; i += 8) {
    const bytes = i16x8.extend_low_i8x16_u(v128.load64_zero(src + i));
    const high = i16x8.shl(bytes, 8);
    v128.store(dst + (i << 1), full ? v128.or(high, bytes) : high);
  }
}

/** Words of `depth` bits as 16-bit codes. */
export function widenWords(src: usize, count: i32, depth: i32, full: bool, dst: usize): void {
  const top: u32 = (1 << depth) - 1;
  for (let i = 0; i < count; i++) {
    const v = <u32>load<u16>(src + (i << 1));
    store<u16>(dst + (i << 1), <u16>(full ? (v * 65535 + (top >> 1)) / top : v << (16 - depth)));
  }
}
