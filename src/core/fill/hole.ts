/** A part of a picture with something missing. */
export interface Hole {
  width: number;
  height: number;
  /** Luma, or luma and two chroma planes of the same size: 16-bit codes. */
  planes: Uint16Array[];
  /** 1 where a pixel is missing. */
  missing: Uint8Array;
  /** 1 where somebody says that a missing pixel shows nothing of the picture; nowhere when left out. */
  painted?: Uint8Array;
  /** 1 where a pixel is there but nothing may be copied from, such as other damage; nowhere when left out. */
  avoided?: Uint8Array;
}

/** How deep each missing pixel lies: steps of 3 sideways and 4 across corners to the nearest that is there (Borgefors, 1986), thirds of a pixel. */
export function depths(missing: Uint8Array, width: number, height: number): Uint16Array {
  const far = 65000;
  const out = new Uint16Array(missing.length);
  for (let i = 0; i < out.length; i++) if (missing[i]) out[i] = far;
  const pass = (from: number, to: number, step: number): void => {
    for (let y = from; y !== to; y += step) {
      for (let n = 0; n < width; n++) {
        const x = step > 0 ? n : width - 1 - n,
          i = y * width + x;
        if (out[i] === 0) continue;
        let least = out[i];
        const before = x - step,
          line = i - step * width;
        const inside = y - step >= 0 && y - step < height;
        if (before >= 0 && before < width) least = Math.min(least, out[i - step] + 3, inside ? out[line - step] + 4 : far);
        if (inside) least = Math.min(least, out[line] + 3);
        if (inside && x + step >= 0 && x + step < width) least = Math.min(least, out[line + step] + 4);
        out[i] = least;
      }
    }
  };
  pass(0, height, 1);
  pass(height - 1, -1, -1);
  return out;
}

/** Half the size: the mean of what is there of each four pixels, missing where none is. */
export function halvedHole({ width, height, planes, missing, avoided }: Hole): Hole {
  const w = width >> 1,
    h = height >> 1;
  const made: Hole = {
    width: w,
    height: h,
    planes: planes.map(() => new Uint16Array(w * h)),
    missing: new Uint8Array(w * h),
    avoided: avoided && new Uint8Array(w * h),
  };
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const to = y * w + x,
        at = 2 * y * width + 2 * x;
      const a = 1 - missing[at],
        b = 1 - missing[at + 1],
        c = 1 - missing[at + width],
        d = 1 - missing[at + width + 1],
        there = a + b + c + d;
      if (there === 0) made.missing[to] = 1;
      else
        for (let p = 0; p < planes.length; p++) {
          const plane = planes[p];
          const sum = a * plane[at] + b * plane[at + 1] + c * plane[at + width] + d * plane[at + width + 1];
          made.planes[p][to] = Math.round(sum / there);
        }
      if (avoided && made.avoided && (avoided[at] || avoided[at + 1] || avoided[at + width] || avoided[at + width + 1]))
        made.avoided[to] = 1;
    }
  }
  return made;
}

/** 1 where a pixel lies within `by` pixels, sideways, downwards or across, of one that is set. */
export function dilated(mask: Uint8Array, width: number, height: number, by: number): Uint8Array<ArrayBuffer> {
  const across = new Uint8Array(mask.length),
    out = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let left = -1;
    for (let x = -by; x < width; x++, left--) {
      if (x + by < width && mask[row + x + by]) left = 2 * by;
      if (x >= 0 && left >= 0) across[row + x] = 1;
    }
  }
  // All columns at once, row by row, as they lie in memory.
  const left = new Int32Array(width).fill(-1);
  for (let y = -by; y < height; y++) {
    const row = y * width,
      ahead = y + by < height ? (y + by) * width : -1;
    for (let x = 0; x < width; x++) {
      if (ahead >= 0 && across[ahead + x]) left[x] = 2 * by;
      if (y >= 0 && left[x] >= 0) out[row + x] = 1;
      left[x]--;
    }
  }
  return out;
}
