// Smoothing along edges after enlargement. The reference and the explanation are in ../reference/edges.ts.

/** Directions of a half circle the tangent is rounded to, and the sample offset of each: dx, dy. */
const DX: StaticArray<i32> = [1, 2, 1, 1, 0, -1, -1, -2];
const DY: StaticArray<i32> = [0, 1, 1, 2, 1, 2, 1, 1];
const COS2: StaticArray<f32> = [1, 0.70710678, 0, -0.70710678, -1, -0.70710678, 0, 0.70710678];
const SIN2: StaticArray<f32> = [0, 0.70710678, 1, 0.70710678, 0, -0.70710678, -1, -0.70710678];

/**
 * `src` and `dst` are planes of floats of `stride` x `height`, of which a border of 4 is read and not written.
 * `tensor` holds three planes of the same size for the smoothed gradient products.
 */
export function smoothAlongEdges(src: usize, stride: i32, height: i32, strength: f32, floor: f32, tensor: usize, dst: usize): void {
  const row: usize = <usize>stride << 2;
  const plane: usize = row * height;
  const xx = tensor, xy = tensor + plane, yy = tensor + 2 * plane;
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < stride - 4; x += 4) {
      const at = y * row + (x << 2), p = src + at;
      const gx = f32x4.sub(v128.load(p + 4), v128.load(p - 4));
      const gy = f32x4.sub(v128.load(p + row), v128.load(p - row));
      v128.store(xx + at, f32x4.mul(gx, gx));
      v128.store(xy + at, f32x4.mul(gx, gy));
      v128.store(yy + at, f32x4.mul(gy, gy));
    }
  }
  memory.copy(dst, src, plane);
  for (let y = 4; y < height - 4; y++) {
    for (let x = 4; x < stride - 7; x += 4) {
      const at = y * row + (x << 2), p = src + at;
      const jxx = box(xx + at, row), jxy = box(xy + at, row), jyy = box(yy + at, row);
      const energy = f32x4.add(jxx, jyy);
      // Doubled angle of the tangent: (jyy - jxx, -2 jxy); its length over the energy is the coherence.
      const c2 = f32x4.sub(jyy, jxx), s2 = f32x4.mul(jxy, f32x4.splat(-2));
      const length = f32x4.sqrt(f32x4.add(f32x4.mul(c2, c2), f32x4.mul(s2, s2)));
      const coherence = f32x4.div(length, f32x4.add(energy, f32x4.splat(floor)));
      const sure = f32x4.max(f32x4.splat(0), f32x4.sub(f32x4.mul(coherence, f32x4.splat(2)), f32x4.splat(1)));
      if (!v128.any_true(f32x4.gt(sure, f32x4.splat(0)))) continue;
      let most = f32x4.splat(-1e30);
      let along = v128.load(p);
      for (let d = 0; d < 8; d++) {
        const fit = f32x4.add(f32x4.mul(c2, f32x4.splat(unchecked(COS2[d]))), f32x4.mul(s2, f32x4.splat(unchecked(SIN2[d]))));
        const better = f32x4.gt(fit, most);
        const step = unchecked(DY[d]) * row + (unchecked(DX[d]) << 2);
        const pair = f32x4.mul(f32x4.add(v128.load(p + step), v128.load(p - step)), f32x4.splat(0.5));
        most = f32x4.max(most, fit);
        along = v128.bitselect(pair, along, better);
      }
      const centre = v128.load(p);
      const gain = f32x4.mul(sure, f32x4.splat(strength));
      v128.store(dst + at, f32x4.add(centre, f32x4.mul(gain, f32x4.sub(along, centre))));
    }
  }
}

/** Sum over 3 x 3. */
@inline
function box(p: usize, row: usize): v128 {
  return f32x4.add(f32x4.add(three(p - row), three(p)), three(p + row));
}

@inline
function three(p: usize): v128 {
  return f32x4.add(f32x4.add(v128.load(p - 4), v128.load(p)), v128.load(p + 4));
}

/** Copy with `border` replicated samples round and rows `stride` apart. */
export function padFloats(src: usize, width: i32, height: i32, border: i32, stride: i32, dst: usize): void {
  for (let y = -border; y < height + border; y++) {
    const from = src + ((min(height - 1, max(0, y)) * width) << 2);
    const row = dst + (((y + border) * stride) << 2);
    memory.copy(row + (border << 2), from, width << 2);
    const left = load<f32>(from), right = load<f32>(from + ((width - 1) << 2));
    for (let i = 0; i < border; i++) store<f32>(row + (i << 2), left);
    for (let i = border + width; i < stride; i++) store<f32>(row + (i << 2), right);
  }
}

/** The inside of such a plane, packed. */
export function cutFloats(src: usize, stride: i32, border: i32, width: i32, height: i32, dst: usize): void {
  for (let y = 0; y < height; y++) {
    memory.copy(dst + ((y * width) << 2), src + (((y + border) * stride + border) << 2), width << 2);
  }
}
