// Steps of the solver of src/core/colour/spread.ts, over vectors of four floats a place of a graph. Place i has the links from starts[i] to starts[i + 1]:
// where each leads to, and how wide it is.

/** One sweep of Gauss and Seidel over (D + L) x = b, forwards or backwards; `inverse` is one over the diagonal. */
export function spreadSweep(x: usize, b: usize, starts: usize, to: usize, widths: usize, inverse: usize, size: i32, backwards: bool): void {
  for (let k: i32 = 0; k < size; k++) {
    const i = backwards ? size - 1 - k : k;
    const at = (<usize>i) << 4;
    let sum = v128.load(b + at);
    const end = <usize>load<i32>(starts + ((<usize>(i + 1)) << 2)) << 2;
    for (let n = <usize>load<i32>(starts + ((<usize>i) << 2)) << 2; n < end; n += 4)
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(widths + n), v128.load(x + ((<usize>load<i32>(to + n)) << 4))));
    v128.store(x + at, f32x4.mul(sum, v128.load32_splat(inverse + ((<usize>i) << 2))));
  }
}

/** out = (D + L) x, from differences: places that hang together differ by less than what single precision leaves of their sums. */
export function spreadProduct(x: usize, starts: usize, to: usize, widths: usize, pull: usize, size: i32, out: usize): void {
  for (let i: i32 = 0; i < size; i++) {
    const at = (<usize>i) << 4;
    const own = v128.load(x + at);
    let sum = f32x4.mul(v128.load32_splat(pull + ((<usize>i) << 2)), own);
    const end = <usize>load<i32>(starts + ((<usize>(i + 1)) << 2)) << 2;
    for (let n = <usize>load<i32>(starts + ((<usize>i) << 2)) << 2; n < end; n += 4) {
      const other = v128.load(x + ((<usize>load<i32>(to + n)) << 4));
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(widths + n), f32x4.sub(own, other)));
    }
    v128.store(out + at, sum);
  }
}

/** The first sweep from nought, forwards: what lies ahead of a place has no say yet. */
export function spreadFirst(x: usize, b: usize, starts: usize, to: usize, widths: usize, inverse: usize, size: i32): void {
  for (let i: i32 = 0; i < size; i++) {
    const at = (<usize>i) << 4;
    let sum = v128.load(b + at);
    const end = <usize>load<i32>(starts + ((<usize>(i + 1)) << 2)) << 2;
    for (let n = <usize>load<i32>(starts + ((<usize>i) << 2)) << 2; n < end; n += 4) {
      const j = load<i32>(to + n);
      if (j < i) sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(widths + n), v128.load(x + ((<usize>j) << 4))));
    }
    v128.store(x + at, f32x4.mul(sum, v128.load32_splat(inverse + ((<usize>i) << 2))));
  }
}

/**
 * What the first sweep leaves of what was asked, b - (D + L) x: what comes to a place from those ahead of it. Added up over the places that are one in
 * the coarser graph: those of `out`, nought before.
 */
export function spreadGather(x: usize, starts: usize, to: usize, widths: usize, part: usize, size: i32, out: usize): void {
  for (let i: i32 = 0; i < size; i++) {
    let sum = f32x4.splat(0);
    const end = <usize>load<i32>(starts + ((<usize>(i + 1)) << 2)) << 2;
    for (let n = <usize>load<i32>(starts + ((<usize>i) << 2)) << 2; n < end; n += 4) {
      const j = load<i32>(to + n);
      if (j > i) sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(widths + n), v128.load(x + ((<usize>j) << 4))));
    }
    const at = out + ((<usize>load<i32>(part + ((<usize>i) << 2))) << 4);
    v128.store(at, f32x4.add(v128.load(at), sum));
  }
}

/** The answer of a coarser graph, added to each of the places it stands for. */
export function spreadScatter(from: usize, part: usize, answer: usize, size: i32): void {
  for (let i: i32 = 0; i < size; i++) {
    const to = answer + ((<usize>i) << 4);
    v128.store(to, f32x4.add(v128.load(to), v128.load(from + ((<usize>load<i32>(part + ((<usize>i) << 2))) << 4))));
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
