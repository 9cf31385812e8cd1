// A change of luma matrix in its own subsampling. Explained in ../../picture/matrix.ts.

@inline
function code(v: f32): u16 {
  return <u16>min<f32>(65535, max<f32>(0, v + 0.5));
}

/** luma += fromCb x (Cb - neutral) + fromCr x (Cr - neutral), the chroma sample beside. */
export function mixLuma(
  luma: usize, width: i32, height: i32, cb: usize, cr: usize, chromaWidth: i32, shiftX: i32, shiftY: i32, fromCb: f32, fromCr: f32,
): void {
  for (let y = 0; y < height; y++) {
    const c = (y >> shiftY) * chromaWidth;
    for (let x = 0; x < width; x++) {
      const i = (c + (x >> shiftX)) << 1, p = luma + ((y * width + x) << 1);
      const v = <f32>load<u16>(p) + fromCb * (<f32>load<u16>(cb + i) - 32768) + fromCr * (<f32>load<u16>(cr + i) - 32768);
      store<u16>(p, code(v));
    }
  }
}

/** Cb and Cr from both of them. */
export function mixChroma(cb: usize, cr: usize, count: i32, bb: f32, br: f32, rb: f32, rr: f32): void {
  for (let i = 0; i < count; i++) {
    const b = <f32>load<u16>(cb + (i << 1)) - 32768, r = <f32>load<u16>(cr + (i << 1)) - 32768;
    store<u16>(cb + (i << 1), code(32768 + bb * b + br * r));
    store<u16>(cr + (i << 1), code(32768 + rb * b + rr * r));
  }
}
