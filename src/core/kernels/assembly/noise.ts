// Seeded grain that depends only on the place, the frame and the seed. Explained in ../reference/noise.ts.

@inline
function mix(v: v128): v128 {
  v = v128.xor(v, i32x4.shr_u(v, 16));
  v = i32x4.mul(v, i32x4.splat(0x7feb352d));
  v = v128.xor(v, i32x4.shr_u(v, 15));
  v = i32x4.mul(v, i32x4.splat(0x846ca68b));
  return v128.xor(v, i32x4.shr_u(v, 16));
}

/** Sum of four uniform bytes less its mean, over its deviation: close to normal. */
@inline
function bell(h: v128): v128 {
  const m = i32x4.splat(255);
  const sum = i32x4.add(
    i32x4.add(v128.and(h, m), v128.and(i32x4.shr_u(h, 8), m)),
    i32x4.add(v128.and(i32x4.shr_u(h, 16), m), i32x4.shr_u(h, 24)),
  );
  return f32x4.mul(f32x4.sub(f32x4.convert_i32x4_s(sum), f32x4.splat(510)), f32x4.splat(0.0067658));
}

/** White noise of deviation 1 for columns x0.. and rows y0.., into width x height floats (width a multiple of 4). */
export function whiteNoise(x0: i32, y0: i32, width: i32, height: i32, seed: i32, dst: usize): void {
  const lanes = i32x4(0, 1, 2, 3);
  for (let y = 0; y < height; y++) {
    const line = i32x4.splat((y0 + y) * 0x9e3779b1 + seed);
    for (let x = 0; x < width; x += 4) {
      const h = mix(i32x4.add(line, mix(i32x4.add(i32x4.splat(x0 + x), lanes))));
      v128.store(dst + ((y * width + x) << 2), bell(h));
    }
  }
}

/** plane += noise x amplitude[plane >> 8]; amplitudes are 256 floats. */
export function addNoise(plane: usize, width: i32, height: i32, noise: usize, noiseStride: i32, amplitudes: usize): void {
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = plane + ((y * width + x) << 1);
      const v = load<u16>(p);
      const n = load<f32>(noise + ((y * noiseStride + x) << 2)) * load<f32>(amplitudes + ((<u32>v >> 8) << 2));
      store<u16>(p, <u16>min<f32>(65535, max<f32>(0, <f32>v + n + 0.5)));
    }
  }
}
