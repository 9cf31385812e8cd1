import { lumaLimits, NEUTRAL_CHROMA, SIGMA_UNIT, type Picture } from '../picture/picture';

/** Steps across an 8 x 8 grid against steps elsewhere, over both directions and all phases; 1 where there is no grid. */
export function measureBlocking(picture: Picture): { ratio: number; phase: number } {
  const { width, height, data } = picture.planes[0];
  const across = new Float64Array(8);
  for (let y = 0; y < height; y += 2) {
    for (let x = 2; x + 2 < width; x++) {
      const i = y * width + x;
      // A step that its neighbours do not share.
      const step = Math.abs(data[i] - data[i - 1]) - (Math.abs(data[i - 1] - data[i - 2]) + Math.abs(data[i + 1] - data[i])) / 2;
      if (step > 0 && step < 4000) across[x & 7] += step;
    }
  }
  const total = across.reduce((a, b) => a + b, 0);
  let ratio = 1,
    phase = 0;
  for (let p = 0; p < 8; p++) {
    const others = (total - across[p]) / 7;
    const r = others > 0 ? across[p] / others : 1;
    if (r > ratio) [ratio, phase] = [r, p];
  }
  return { ratio, phase };
}

/**
 * Quantiser step a block codec worked with, in codes of 255, from the steps it leaves at the grid where the picture is
 * smooth; the curve was fitted on photographs coded with known steps, and holds within about a half.
 */
export function measureCoding(picture: Picture): number {
  const { width, height, data } = picture.planes[0];
  const excess = new Float64Array(8),
    count = new Float64Array(8);
  for (let y = 0; y < height; y += 2) {
    for (let x = 2; x + 2 < width; x++) {
      const i = y * width + x;
      const around = (Math.abs(data[i - 1] - data[i - 2]) + Math.abs(data[i + 1] - data[i])) / 2;
      if (around >= 6 * SIGMA_UNIT) continue;
      excess[x & 7] += (Math.abs(data[i] - data[i - 1]) - around) / SIGMA_UNIT;
      count[x & 7]++;
    }
  }
  const means = excess.map((v, p) => v / Math.max(1, count[p]));
  const top = Math.max(...means);
  const d = top - (means.reduce((a, b) => a + b, 0) - top) / 7;
  return Math.min(64, 4.1 * d * (1 + 0.02 * d * d));
}

/** Spread of the chroma: whether there are colours, or one tone, or none. */
export function measureColour(picture: Picture): { monochrome: boolean; toned: boolean; spread: number } {
  const [, cb, cr] = picture.planes;
  if (!cb) return { monochrome: true, toned: false, spread: 0 };
  let n = 0,
    sb = 0,
    sr = 0,
    sbb = 0,
    srr = 0;
  // Means of 4 x 4 samples, so that chroma noise does not pass for colour.
  for (let y = 0; y + 4 <= cb.height; y += 4) {
    for (let x = 0; x + 4 <= cb.width; x += 4) {
      let b = 0,
        r = 0;
      for (let j = 0; j < 4; j++)
        for (let i = (y + j) * cb.width + x, end = i + 4; i < end; i++) {
          b += cb.data[i];
          r += cr.data[i];
        }
      b = b / 16 - NEUTRAL_CHROMA;
      r = r / 16 - NEUTRAL_CHROMA;
      n++;
      sb += b;
      sr += r;
      sbb += b * b;
      srr += r * r;
    }
  }
  if (n === 0) return { monochrome: true, toned: false, spread: 0 };
  const spread = Math.sqrt(Math.max(0, sbb / n - (sb / n) ** 2) + Math.max(0, srr / n - (sr / n) ** 2)) / 256;
  const offset = Math.hypot(sb / n, sr / n) / 256;
  const monochrome = spread < 1.6;
  return { monochrome, toned: monochrome && offset > 2, spread };
}

/** Rows and columns at the edges that hold nothing but black. */
export function measureBars(picture: Picture): { left: number; right: number; top: number; bottom: number } {
  const { width, height, data } = picture.planes[0];
  const limit = lumaLimits(picture.info.colour.range).black + 9 * 256;
  // A few bright specks of noise do not make a picture.
  const darkRow = (y: number): boolean => {
    let bright = 0;
    for (let i = y * width, end = i + width; i < end; i++) if (data[i] > limit) bright++;
    return bright < width * 0.01;
  };
  const darkColumn = (x: number): boolean => {
    let bright = 0;
    for (let i = x; i < data.length; i += width) if (data[i] > limit) bright++;
    return bright < height * 0.01;
  };
  const count = (dark: (n: number) => boolean, from: number, step: number, most: number): number => {
    let n = 0;
    while (n < most && dark(from + n * step)) n++;
    return n;
  };
  const top = count(darkRow, 0, 1, height >> 1),
    bottom = count(darkRow, height - 1, -1, height >> 1);
  const left = count(darkColumn, 0, 1, width >> 1),
    right = count(darkColumn, width - 1, -1, width >> 1);
  // A frame that is dark all over has no bars.
  return top + bottom >= height - 1 || left + right >= width - 1 ? { left: 0, right: 0, top: 0, bottom: 0 } : { left, right, top, bottom };
}
