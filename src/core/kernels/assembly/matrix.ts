// A change of luma matrix in its own subsampling. Explained in ../../picture/matrix.ts.

@inline
function code(v: f32): u16 {
  return <u16>min<f32>(65535, max<f32>(0, v + 0.5));
}

/** Four 16-bit samples as floats. */
@inline
function wide(four: u64): v128 {
  return f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(i64x2.splat(<i64>four)));
}

/** luma += fromCb x (Cb - neutral) + fromCr x (Cr - neutral), the chroma sample beside. */
export function mixLuma(
  luma: usize, width: i32, height: i32, cb: usize, cr: usize, chromaWidth: i32, shiftX: i32, shiftY: i32, fromCb: f32, fromCr: f32,
): void {
  for (let y = 0; y < height; y++) {
    const c = (y >> shiftY) * chromaWidth;
    let x = 0;
    if (shiftX === 1) {
      const half = f32x4.splat(0.5), neutral = f32x4.splat(32768), b = f32x4.splat(fromCb), r = f32x4.splat(fromCr);
      for (; x + 8 <= width; x += 8) {
        const i = (c + (x >> 1)) << 1, p = luma + ((y * width + x) << 1);
        const four = f32x4.add(f32x4.mul(b, f32x4.sub(wide(load<u64>(cb + i)), neutral)), f32x4.mul(r, f32x4.sub(wide(load<u64>(cr + i)), neutral)));
        const low = f32x4.add(f32x4.add(wide(load<u64>(p)), v128.shuffle<f32>(four, four, 0, 0, 1, 1)), half);
        const high = f32x4.add(f32x4.add(wide(load<u64>(p + 8)), v128.shuffle<f32>(four, four, 2, 2, 3, 3)), half);
        v128.store(p, i16x8.narrow_i32x4_u(i32x4.trunc_sat_f32x4_s(low), i32x4.trunc_sat_f32x4_s(high)));
      }
    }
    for (; x < width; x++) {
      const i = (c + (x >> shiftX)) << 1, p = luma + ((y * width + x) << 1);
      const v = <f32>load<u16>(p) + fromCb * (<f32>load<u16>(cb + i) - 32768) + fromCr * (<f32>load<u16>(cr + i) - 32768);
      store<u16>(p, code(v));
    }
  }
}

/** Cb and Cr from both of them. */
export function mixChroma(cb: usize, cr: usize, count: i32, bb: f32, br: f32, rb: f32, rr: f32): void {
  const neutral = f32x4.splat(32768), round = f32x4.splat(32768.5);
  let i = 0;
  for (; i + 4 <= count; i += 4) {
    const p = cb + (i << 1), q = cr + (i << 1);
    const b = f32x4.sub(wide(load<u64>(p)), neutral), r = f32x4.sub(wide(load<u64>(q)), neutral);
    storeCodes(p, f32x4.add(f32x4.add(f32x4.mul(f32x4.splat(bb), b), f32x4.mul(f32x4.splat(br), r)), round));
    storeCodes(q, f32x4.add(f32x4.add(f32x4.mul(f32x4.splat(rb), b), f32x4.mul(f32x4.splat(rr), r)), round));
  }
  for (; i < count; i++) {
    const b = <f32>load<u16>(cb + (i << 1)) - 32768, r = <f32>load<u16>(cr + (i << 1)) - 32768;
    store<u16>(cb + (i << 1), code(bb * b + br * r + 32768));
    store<u16>(cr + (i << 1), code(rb * b + rr * r + 32768));
  }
}

/** Four floats, already rounded up by a half, as 16-bit samples held in their range. */
@inline
function storeCodes(to: usize, four: v128): void {
  const codes = i32x4.trunc_sat_f32x4_s(four);
  v128.store64_lane(to, i16x8.narrow_i32x4_u(codes, codes), 0);
}
