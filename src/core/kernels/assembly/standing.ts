// Blocks of frames that stand still: how far they differ, and their means. Explained in ../standing.ts.

/**
 * Mean squared difference of each block of two planes, in eighths of a code of 255, squared, from every other line; blocks at the
 * edges may be smaller.
 */
export function blockDifferences(
  a: usize, b: usize, width: i32, height: i32, blockWidth: i32, blockHeight: i32, columns: i32, rows: i32, out: usize,
): void {
  for (let by = 0; by < rows; by++) {
    const y0 = by * blockHeight, y1 = min(height, y0 + blockHeight);
    for (let bx = 0; bx < columns; bx++) {
      const x0 = bx * blockWidth, x1 = min(width, x0 + blockWidth);
      let sum: f32 = 0;
      for (let y = y0; y < y1; y += 2) {
        let lanes = i32x4.splat(0);
        let x = x0;
        for (; x + 8 <= x1; x += 8) {
          const at = (y * width + x) << 1;
          const d = i16x8.shr_s(i16x8.sub(i16x8.shr_u(v128.load(a + at), 1), i16x8.shr_u(v128.load(b + at), 1)), 4);
          lanes = i32x4.add(lanes, i32x4.dot_i16x8_s(d, d));
        }
        sum += <f32>(i32x4.extract_lane(lanes, 0) + i32x4.extract_lane(lanes, 1) + i32x4.extract_lane(lanes, 2) + i32x4.extract_lane(lanes, 3));
        for (; x < x1; x++) {
          const at = (y * width + x) << 1;
          const d = ((<i32>load<u16>(a + at) >> 1) - (<i32>load<u16>(b + at) >> 1)) >> 4;
          sum += <f32>(d * d);
        }
      }
      store<f32>(out + ((by * columns + bx) << 2), sum / <f32>max(1, ((y1 - y0 + 1) >> 1) * (x1 - x0)));
    }
  }
}

/** The kernels' own memory for the addresses of the planes that a block takes. */
const taken = memory.data(32 * 4);

/** Each block the mean of the planes whose bits its mask has, blocks without a bit left alone; `planes` is a list of up to 32 addresses, `masks` one u32 a block. */
export function averageBlocks(
  planes: usize, count: i32, masks: usize, width: i32, height: i32, blockWidth: i32, blockHeight: i32, columns: i32, rows: i32, out: usize,
): void {
  for (let by = 0; by < rows; by++) {
    const y0 = by * blockHeight, y1 = min(height, y0 + blockHeight);
    for (let bx = 0; bx < columns; bx++) {
      const mask = load<u32>(masks + ((by * columns + bx) << 2));
      const x0 = bx * blockWidth, x1 = min(width, x0 + blockWidth);
      let parts = 0;
      for (let n = 0; n < count; n++) {
        if (!((mask >> n) & 1)) continue;
        store<u32>(taken + (parts << 2), load<u32>(planes + (n << 2)));
        parts++;
      }
      if (parts == 0) continue;
      const share = f32x4.splat(1 / <f32>parts);
      for (let y = y0; y < y1; y++) {
        let x = x0;
        for (; x + 8 <= x1; x += 8) {
          const at = (y * width + x) << 1;
          if (parts == 1) {
            v128.store(out + at, v128.load(load<u32>(taken) + at));
            continue;
          }
          let low = i32x4.splat(0), high = i32x4.splat(0);
          for (let n = 0; n < parts; n++) {
            const v = v128.load(load<u32>(taken + (n << 2)) + at);
            low = i32x4.add(low, i32x4.extend_low_i16x8_u(v));
            high = i32x4.add(high, i32x4.extend_high_i16x8_u(v));
          }
          const l = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(f32x4.convert_i32x4_s(low), share), f32x4.splat(0.5)));
          const h = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(f32x4.convert_i32x4_s(high), share), f32x4.splat(0.5)));
          v128.store(out + at, i16x8.narrow_i32x4_u(l, h));
        }
        for (; x < x1; x++) {
          const at = (y * width + x) << 1;
          let sum = 0;
          for (let n = 0; n < parts; n++) sum += <i32>load<u16>(load<u32>(taken + (n << 2)) + at);
          store<u16>(out + at, <u16>(<f32>sum * f32x4.extract_lane(share, 0) + 0.5));
        }
      }
    }
  }
}
