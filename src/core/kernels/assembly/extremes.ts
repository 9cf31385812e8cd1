// The least and the highest sample of the square round each, and what stands out of them. Explained in ../extremes.ts.

/** Rows, then columns; `line` holds `width` and twice `radius` floats, and eight more. Beyond the plane nothing counts. */
export function squareExtremes(src: usize, width: i32, height: i32, radius: i32, highest: bool, between: usize, line: usize, dst: usize): void {
  const row = <usize>width << 2;
  for (let y = 0; y < height; y++) {
    const first = max(0, y - radius), last = min(height - 1, y + radius);
    const out = between + <usize>y * row;
    for (let x = 0; x < width; x += 4) {
      const at = <usize>x << 2;
      let v = v128.load(src + <usize>first * row + at);
      for (let k = first + 1; k <= last; k++) {
        const w = v128.load(src + <usize>k * row + at);
        v = highest ? f32x4.pmax(v, w) : f32x4.pmin(v, w);
      }
      v128.store(out + at, v);
    }
  }
  const beyond: f32 = highest ? -f32.MAX_VALUE : f32.MAX_VALUE;
  const pad = <usize>radius << 2;
  for (let i = 0; i < radius; i++) {
    store<f32>(line + (<usize>i << 2), beyond);
    store<f32>(line + pad + row + (<usize>i << 2), beyond);
  }
  for (let y = 0; y < height; y++) {
    memory.copy(line + pad, between + <usize>y * row, row);
    for (let i = 0; i < radius; i++) store<f32>(line + pad + row + (<usize>i << 2), beyond);
    const out = dst + <usize>y * row;
    for (let x = 0; x < width; x += 4) {
      const at = line + (<usize>x << 2);
      let v = v128.load(at);
      for (let k = 1; k <= 2 * radius; k++) {
        const w = v128.load(at + (<usize>k << 2));
        v = highest ? f32x4.pmax(v, w) : f32x4.pmin(v, w);
      }
      if (x + 4 <= width) v128.store(out + (<usize>x << 2), v);
      else {
        store<f32>(out + (<usize>x << 2), f32x4.extract_lane(v, 0));
        if (x + 1 < width) store<f32>(out + (<usize>(x + 1) << 2), f32x4.extract_lane(v, 1));
        if (x + 2 < width) store<f32>(out + (<usize>(x + 2) << 2), f32x4.extract_lane(v, 2));
      }
    }
  }
}
