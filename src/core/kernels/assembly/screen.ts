// Planes to 8-bit red, green, blue, opaque, for the screen. The plain version is toRgb in ../../picture/matrix.ts.

/** Chroma at luma's places along one row: bilinear between samples, in 32-bit floats less neutral. */
function chromaRow(plane: usize, width: i32, height: i32, row: i32, shiftX: i32, shiftY: i32, to: usize, count: i32): void {
  const place: f32 = (<f32>row + 0.5) / <f32>(1 << shiftY) - 0.5;
  const base = <i32>Mathf.floor(place);
  const fy = place - <f32>base;
  const a = plane + (max(0, base) * width << 1), b = plane + (min(height - 1, base + 1) * width << 1);
  let before: f32 = 0;
  for (let c = 0; c < width; c++) {
    const v0 = <f32>load<u16>(a + (c << 1)), v1 = <f32>load<u16>(b + (c << 1));
    const v = v0 + (v1 - v0) * fy - 32768;
    if (!shiftX) {
      store<f32>(to + (c << 2), v);
      continue;
    }
    const x = c << shiftX, apart = 1 << shiftX;
    if (c > 0) {
      const each: f32 = (v - before) / <f32>apart;
      for (let k = 1; k < apart; k++) store<f32>(to + ((x - apart + k) << 2), before + each * <f32>k);
    }
    if (x < count) store<f32>(to + (x << 2), v);
    if (c == width - 1) for (let k = x + 1; k < min(count, x + apart); k++) store<f32>(to + (k << 2), v);
    before = v;
  }
}

@inline
function byte(v: v128): v128 {
  const held = f32x4.min(f32x4.max(v, f32x4.splat(0)), f32x4.splat(255));
  return i32x4.trunc_sat_f32x4_s(f32x4.add(held, f32x4.splat(0.5)));
}

@inline
function pixels(l: v128, b: v128, r: v128, rr: f32, gb: f32, gr: f32, bb: f32): v128 {
  const red = byte(f32x4.add(l, f32x4.mul(r, f32x4.splat(rr))));
  const green = byte(f32x4.add(l, f32x4.add(f32x4.mul(b, f32x4.splat(gb)), f32x4.mul(r, f32x4.splat(gr)))));
  const blue = byte(f32x4.add(l, f32x4.mul(b, f32x4.splat(bb))));
  const colour = v128.or(red, v128.or(i32x4.shl(green, 8), i32x4.shl(blue, 16)));
  return v128.or(colour, i32x4.splat(0xff000000));
}

/**
 * Luma of width x height with its chroma planes (none when cb is 0). `lines` is room for two rows of floats, `out` for four bytes
 * a pixel, each with 16 bytes to spare.
 */
export function toScreen(
  luma: usize, width: i32, height: i32, cb: usize, cr: usize, chromaWidth: i32, chromaHeight: i32, shiftX: i32, shiftY: i32,
  black: f32, gain: f32, rr: f32, gb: f32, gr: f32, bb: f32, lines: usize, out: usize,
): void {
  const rows = (width + 8) << 2;
  const low = f32x4.splat(black), scale = f32x4.splat(gain);
  for (let y = 0; y < height; y++) {
    if (cb) {
      chromaRow(cb, chromaWidth, chromaHeight, y, shiftX, shiftY, lines, width);
      chromaRow(cr, chromaWidth, chromaHeight, y, shiftX, shiftY, lines + rows, width);
    }
    const from = luma + (y * width << 1), to = out + (y * width << 2);
    for (let x = 0; x < width; x += 4) {
      const codes = i32x4.extend_low_i16x8_u(v128.load64_zero(from + (x << 1)));
      const l = f32x4.mul(f32x4.sub(f32x4.convert_i32x4_s(codes), low), scale);
      const b = cb ? v128.load(lines + (x << 2)) : f32x4.splat(0), r = cb ? v128.load(lines + rows + (x << 2)) : f32x4.splat(0);
      v128.store(to + (x << 2), pixels(l, b, r, rr, gb, gr, bb));
    }
  }
}
