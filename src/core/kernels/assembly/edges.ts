// Smoothing along edges after enlargement. The reference and the explanation are in ../reference/edges.ts.

import { storePart } from './common';

const BORDER: i32 = 4;

/**
 * `src` is `data`, a plane of floats of `width` x `height`, with a border of 4 and rows `stride` apart (`padFloats`); `data`
 * takes the result. `tensor` holds twelve rows: the products of one row's gradients, and their sums over three columns of three
 * rows in turn.
 */
export function smoothAlongEdges(
  src: usize, stride: i32, width: i32, height: i32, strength: f32, floor: f32, tensor: usize, data: usize,
): void {
  const row: usize = <usize>stride << 2;
  const products = tensor, sums = tensor + 3 * row;
  for (let y = -1; y <= height; y++) {
    sumProducts(src + <usize>(y + BORDER) * row, stride, row, products, sums + 3 * row * <usize>((y + BORDER) % 3));
    if (y > 0) {
      // Always added from above downwards: in another order the sums would round otherwise, and a part differ from the whole.
      const a = sums + 3 * row * <usize>((y + BORDER - 2) % 3), b = sums + 3 * row * <usize>((y + BORDER - 1) % 3);
      const c = sums + 3 * row * <usize>((y + BORDER) % 3);
      smoothRow(src + <usize>(y - 1 + BORDER) * row, width, row, strength, floor, a, b, c, data + (((y - 1) * width) << 2));
    }
  }
}

/** Products of the gradients round a row's samples, xx, xy and yy, each summed over three columns. */
function sumProducts(p: usize, stride: i32, row: usize, products: usize, sums: usize): void {
  for (let x = 1; x < stride - 4; x += 4) {
    const at = x << 2;
    const gx = f32x4.sub(v128.load(p + at + 4), v128.load(p + at - 4));
    const gy = f32x4.sub(v128.load(p + at + row), v128.load(p + at - row));
    v128.store(products + at, f32x4.mul(gx, gx));
    v128.store(products + row + at, f32x4.mul(gx, gy));
    v128.store(products + 2 * row + at, f32x4.mul(gy, gy));
  }
  for (let x = 4; x < stride - 7; x += 4) {
    const at = x << 2;
    v128.store(sums + at, three(products + at));
    v128.store(sums + row + at, three(products + row + at));
    v128.store(sums + 2 * row + at, three(products + 2 * row + at));
  }
}

@inline
function three(p: usize): v128 {
  return f32x4.add(f32x4.add(v128.load(p - 4), v128.load(p)), v128.load(p + 4));
}

const DIAGONAL: f32 = 0.70710678;

/** `above`, `here` and `below` are the sums of the three rows. */
function smoothRow(
  src: usize, width: i32, row: usize, strength: f32, floor: f32, above: usize, here: usize, below: usize, dst: usize,
): void {
  for (let x = 0; x < width; x += 4) {
    const at = <usize>((x + BORDER) << 2), p = src + at;
    const jxx = down(above + at, here + at, below + at), jxy = down(above + row + at, here + row + at, below + row + at);
    const jyy = down(above + 2 * row + at, here + 2 * row + at, below + 2 * row + at);
    const energy = f32x4.add(jxx, jyy);
    // Doubled angle of the tangent: (jyy - jxx, -2 jxy); its length over the energy is the coherence.
    const c2 = f32x4.sub(jyy, jxx), s2 = f32x4.mul(jxy, f32x4.splat(-2));
    const length = f32x4.sqrt(f32x4.add(f32x4.mul(c2, c2), f32x4.mul(s2, s2)));
    const coherence = f32x4.div(length, f32x4.add(energy, f32x4.splat(floor)));
    const sure = f32x4.max(f32x4.splat(0), f32x4.sub(f32x4.mul(coherence, f32x4.splat(2)), f32x4.splat(1)));
    if (!v128.any_true(f32x4.gt(sure, f32x4.splat(0)))) continue;
    // The tangent is rounded to one of eight directions of a half circle; two of them at right angles share an axis here.
    const rising = f32x4.mul(f32x4.add(c2, s2), f32x4.splat(DIAGONAL)), falling = f32x4.mul(f32x4.sub(s2, c2), f32x4.splat(DIAGONAL));
    let most = f32x4.abs(c2);
    let along = either(c2, pair(p, 4), pair(p, row));
    let fit = f32x4.abs(rising);
    along = v128.bitselect(either(rising, pair(p, row + 8), pair(p, 2 * row - 4)), along, f32x4.gt(fit, most));
    most = f32x4.max(most, fit);
    fit = f32x4.abs(s2);
    along = v128.bitselect(either(s2, pair(p, row + 4), pair(p, row - 4)), along, f32x4.gt(fit, most));
    most = f32x4.max(most, fit);
    along = v128.bitselect(either(falling, pair(p, 2 * row + 4), pair(p, row - 8)), along, f32x4.gt(f32x4.abs(falling), most));
    const centre = v128.load(p);
    const smooth = f32x4.add(centre, f32x4.mul(f32x4.mul(sure, f32x4.splat(strength)), f32x4.sub(along, centre)));
    if (x + 4 <= width) v128.store(dst + (x << 2), smooth);
    else storePart(dst + (x << 2), smooth, width - x);
  }
}

@inline
function down(above: usize, here: usize, below: usize): v128 {
  return f32x4.add(f32x4.add(v128.load(above), v128.load(here)), v128.load(below));
}

/** Mean of the two samples `step` bytes before and after. */
@inline
function pair(p: usize, step: usize): v128 {
  return f32x4.mul(f32x4.add(v128.load(p + step), v128.load(p - step)), f32x4.splat(0.5));
}

@inline
function either(axis: v128, ahead: v128, across: v128): v128 {
  return v128.bitselect(ahead, across, f32x4.gt(axis, f32x4.splat(0)));
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
