// A plane at a smaller size; the reference is ../reference/reduce.ts.

/**
 * Each sample is the mean of the area it covers, parts of samples at its edges by the share of them that lies within.
 *
 * @param line floats to work in, `width` of them and 3 more.
 */
export function reduceArea(plane: usize, width: i32, height: i32, line: usize, outWidth: i32, outHeight: i32, out: usize): void {
  const stepX: f64 = <f64>width / <f64>outWidth,
    stepY: f64 = <f64>height / <f64>outHeight;
  const area: f64 = stepX * stepY;
  for (let y: i32 = 0; y < outHeight; y++) {
    const top: f64 = <f64>y * stepY,
      low: f64 = min<f64>(<f64>height, <f64>(y + 1) * stepY);
    memory.fill(line, 0, (<usize>width) << 2);
    for (let v: i32 = <i32>top; <f64>v < low; v++) {
      const tall = f32x4.splat(<f32>(min<f64>(low, <f64>(v + 1)) - max<f64>(top, <f64>v)));
      const row = plane + ((<usize>(v * width)) << 1);
      for (let u: i32 = 0; u < width; u += 4) {
        const samples = f32x4.convert_i32x4_u(v128.load16x4_u(row + ((<usize>u) << 1)));
        const to = line + ((<usize>u) << 2);
        v128.store(to, f32x4.add(v128.load(to), f32x4.mul(tall, samples)));
      }
    }
    for (let x: i32 = 0; x < outWidth; x++) {
      const left: f64 = <f64>x * stepX,
        right: f64 = min<f64>(<f64>width, <f64>(x + 1) * stepX);
      const first: i32 = <i32>left,
        last: i32 = min<i32>(width - 1, <i32>right);
      let whole: f64 = 0;
      for (let u: i32 = first; u < last; u++) whole += <f64>load<f32>(line + ((<usize>u) << 2));
      // All of the first were counted, and none of the last.
      const sum: f64 =
        whole -
        (left - <f64>first) * <f64>load<f32>(line + ((<usize>first) << 2)) +
        (right - <f64>last) * <f64>load<f32>(line + ((<usize>last) << 2));
      store<u16>(out + ((<usize>(y * outWidth + x)) << 1), <u16>(sum / area + 0.5));
    }
  }
}
