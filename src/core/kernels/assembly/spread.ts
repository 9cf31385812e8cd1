// Steps of the solver of src/core/colour/spread.ts, over vectors of four floats a place. Rasters have a row of nought before and after, so that edges
// need no exception; `size` counts the places between.

/** One sweep of Gauss and Seidel over (D + L) x = b, forwards or backwards. */
export function spreadSweep(x: usize, b: usize, across: usize, down: usize, inverse: usize, width: i32, size: i32, backwards: bool): void {
  const step: i32 = backwards ? -1 : 1;
  const row = <usize>width << 4,
    links = <usize>width << 2;
  let i: i32 = backwards ? size + width - 1 : width;
  let last = v128.load(x + ((<usize>(i - step)) << 4));
  for (let n: i32 = 0; n < size; n++, i += step) {
    const at = x + ((<usize>i) << 4),
      link = (<usize>i) << 2;
    const left = load<f32>(across + link - 4),
      right = load<f32>(across + link),
      up = load<f32>(down + link - links),
      below = load<f32>(down + link),
      one = load<f32>(inverse + link);
    const near: f32 = backwards ? right : left,
      far: f32 = backwards ? left : right;
    const other = v128.load(backwards ? at - 16 : at + 16);
    let sum = f32x4.add(v128.load(b + ((<usize>i) << 4)), f32x4.mul(f32x4.splat(far), other));
    sum = f32x4.add(sum, f32x4.mul(f32x4.splat(up), v128.load(at - row)));
    sum = f32x4.add(sum, f32x4.mul(f32x4.splat(below), v128.load(at + row)));
    // What was just made waits for one product alone.
    last = f32x4.add(f32x4.mul(sum, f32x4.splat(one)), f32x4.mul(f32x4.splat(near * one), last));
    v128.store(at, last);
  }
}

/** out = (D + L) x. */
export function spreadProduct(x: usize, across: usize, down: usize, diagonal: usize, width: i32, size: i32, out: usize): void {
  const row = <usize>width << 4,
    links = <usize>width << 2;
  for (let i: i32 = width; i < size + width; i++) {
    const at = x + ((<usize>i) << 4),
      link = (<usize>i) << 2;
    let sum = f32x4.mul(f32x4.splat(load<f32>(diagonal + link)), v128.load(at));
    sum = f32x4.sub(sum, f32x4.mul(f32x4.splat(load<f32>(across + link - 4)), v128.load(at - 16)));
    sum = f32x4.sub(sum, f32x4.mul(f32x4.splat(load<f32>(across + link)), v128.load(at + 16)));
    sum = f32x4.sub(sum, f32x4.mul(f32x4.splat(load<f32>(down + link - links)), v128.load(at - row)));
    sum = f32x4.sub(sum, f32x4.mul(f32x4.splat(load<f32>(down + link)), v128.load(at + row)));
    v128.store(out + ((<usize>i) << 4), sum);
  }
}

/** What is asked of a raster less what its answer makes, added up over the places that are one on the coarser: those of `to`, nought before. */
export function spreadGather(asked: usize, made: usize, width: i32, size: i32, coarse: i32, to: usize): void {
  let from: usize = <usize>width << 4;
  for (let y: i32 = 0; y < size / width; y++) {
    const row = to + ((<usize>(((y >> 1) + 1) * coarse)) << 4);
    for (let x: i32 = 0; x < width; x++, from += 16) {
      const at = row + ((<usize>(x >> 1)) << 4);
      v128.store(at, f32x4.add(v128.load(at), f32x4.sub(v128.load(asked + from), v128.load(made + from))));
    }
  }
}

/** The answer of a coarser raster, added to each of the places it stands for. */
export function spreadScatter(from: usize, coarse: i32, answer: usize, width: i32, size: i32): void {
  let to: usize = answer + (<usize>width << 4);
  for (let y: i32 = 0; y < size / width; y++) {
    const row = from + ((<usize>(((y >> 1) + 1) * coarse)) << 4);
    for (let x: i32 = 0; x < width; x++, to += 16) v128.store(to, f32x4.add(v128.load(to), v128.load(row + ((<usize>(x >> 1)) << 4))));
  }
}

/** Products of two vectors, channel by channel: four doubles at `out`. */
export function spreadDot(a: usize, b: usize, count: i32, out: usize): void {
  let low = f64x2.splat(0),
    high = f64x2.splat(0);
  for (let i: usize = 0; i < <usize>count << 4; i += 16) {
    const product = f32x4.mul(v128.load(a + i), v128.load(b + i));
    low = f64x2.add(low, f64x2.promote_low_f32x4(product));
    high = f64x2.add(high, f64x2.promote_low_f32x4(v128.shuffle<f32>(product, product, 2, 3, 2, 3)));
  }
  v128.store(out, low);
  v128.store(out, high, 16);
}

/** The largest size of each channel: four floats at `out`. */
export function spreadLargest(a: usize, count: i32, out: usize): void {
  let most = f32x4.splat(0);
  for (let i: usize = 0; i < <usize>count << 4; i += 16) most = f32x4.max(most, f32x4.abs(v128.load(a + i)));
  v128.store(out, most);
}

/** to += factor * from, by the four factors at `factor`. */
export function spreadAdd(to: usize, from: usize, factor: usize, count: i32): void {
  const by = v128.load(factor);
  for (let i: usize = 0; i < <usize>count << 4; i += 16) v128.store(to + i, f32x4.add(v128.load(to + i), f32x4.mul(by, v128.load(from + i))));
}

/** way = answer + factor * way, by the four factors at `factor`. */
export function spreadTurn(way: usize, answer: usize, factor: usize, count: i32): void {
  const by = v128.load(factor);
  for (let i: usize = 0; i < <usize>count << 4; i += 16) v128.store(way + i, f32x4.add(v128.load(answer + i), f32x4.mul(by, v128.load(way + i))));
}
