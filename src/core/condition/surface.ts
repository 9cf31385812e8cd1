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

/** Levels of lightness that each have a tone of their own in a toned print. */
const TONES = 32;
/** Spread of the chroma about its level's tone, in codes of 255, from which there are colours. */
const COLOURS_FROM = 3;

/** Whether there are colours, or one tone for each lightness (as in sepia prints), or none. */
export function measureColour(picture: Picture): { monochrome: boolean; toned: boolean; spread: number } {
  const [luma, cb, cr] = picture.planes;
  if (!cb) return { monochrome: true, toned: false, spread: 0 };
  const { chromaShiftX, chromaShiftY } = picture.info;
  const count = new Float64Array(TONES),
    sum = [new Float64Array(TONES), new Float64Array(TONES)];
  let n = 0,
    squares = 0,
    offset = 0;
  // Means of 4 x 4 samples, so that chroma noise does not pass for colour.
  for (let y = 0; y + 4 <= cb.height; y += 4) {
    for (let x = 0; x + 4 <= cb.width; x += 4) {
      let b = 0,
        r = 0,
        l = 0;
      for (let j = 0; j < 4; j++)
        for (let i = (y + j) * cb.width + x, end = i + 4, k = ((y + j) << chromaShiftY) * luma.width + (x << chromaShiftX); i < end; i++) {
          b += cb.data[i];
          r += cr.data[i];
          l += luma.data[k];
          k += 1 << chromaShiftX;
        }
      b = (b / 16 - NEUTRAL_CHROMA) / SIGMA_UNIT;
      r = (r / 16 - NEUTRAL_CHROMA) / SIGMA_UNIT;
      const level = Math.min(TONES - 1, Math.floor((l / 16 / 65536) * TONES));
      n++;
      count[level]++;
      sum[0][level] += b;
      sum[1][level] += r;
      squares += b * b + r * r;
      offset += Math.hypot(b, r);
    }
  }
  if (n === 0) return { monochrome: true, toned: false, spread: 0 };
  const explained = sum.reduce((all, s) => all + s.reduce((some, v, i) => some + (count[i] ? (v * v) / count[i] : 0), 0), 0);
  const spread = Math.sqrt(Math.max(0, squares - explained) / n);
  const monochrome = spread < COLOURS_FROM;
  return { monochrome, toned: monochrome && offset / n > 2, spread };
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
