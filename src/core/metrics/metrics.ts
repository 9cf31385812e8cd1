import type { Plane } from '../picture/picture';

/** Peak signal-to-noise ratio in dB of two planes of one size, on the 0 to 65535 scale unless `peak` says otherwise. */
export function psnr(a: Plane, b: Plane, peak = 65535, border = 0): number {
  assertSameSize(a, b);
  let sum = 0;
  for (let y = border; y < a.height - border; y++) {
    for (let i = y * a.width + border, end = (y + 1) * a.width - border; i < end; i++) {
      const d = a.data[i] - b.data[i];
      sum += d * d;
    }
  }
  const count = (a.width - 2 * border) * (a.height - 2 * border);
  return sum === 0 ? Infinity : 10 * Math.log10((peak * peak * count) / sum);
}

/**
 * Mean structural similarity (Wang, Bovik, Sheikh and Simoncelli, 2004) over 8 x 8 windows every 4 pixels,
 * K1 = 0.01, K2 = 0.03.
 */
export function ssim(a: Plane, b: Plane, peak = 65535): number {
  assertSameSize(a, b);
  const c1 = (0.01 * peak) ** 2;
  const c2 = (0.03 * peak) ** 2;
  let total = 0;
  let windows = 0;
  for (let y = 0; y + 8 <= a.height; y += 4) {
    for (let x = 0; x + 8 <= a.width; x += 4) {
      let sa = 0,
        sb = 0,
        saa = 0,
        sbb = 0,
        sab = 0;
      for (let j = 0; j < 8; j++) {
        for (let i = (y + j) * a.width + x, end = i + 8; i < end; i++) {
          const p = a.data[i];
          const q = b.data[i];
          sa += p;
          sb += q;
          saa += p * p;
          sbb += q * q;
          sab += p * q;
        }
      }
      const ma = sa / 64,
        mb = sb / 64;
      const va = saa / 64 - ma * ma,
        vb = sbb / 64 - mb * mb,
        cov = sab / 64 - ma * mb;
      total += ((2 * ma * mb + c1) * (2 * cov + c2)) / ((ma * ma + mb * mb + c1) * (va + vb + c2));
      windows++;
    }
  }
  return windows ? total / windows : 1;
}

function assertSameSize(a: Plane, b: Plane): void {
  if (a.width !== b.width || a.height !== b.height) {
    throw new RangeError(`planes differ in size: ${a.width}x${a.height} and ${b.width}x${b.height}`);
  }
}
