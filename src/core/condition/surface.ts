import { NEUTRAL_CHROMA, SIGMA_UNIT, type Picture } from '../picture/picture';

/** Codes of 255 that no grid's step is missed by; keeps flat pictures, whose steps are all nothing, from comparing nothing with nothing. */
const FLOOR = 0.04;
/** Rows of a picture that steps are looked for in; of taller ones every few. */
const MAX_ROWS = 800;

/**
 * Steps across an 8 x 8 grid against steps elsewhere, over both directions and all phases; 1 where there is no grid. Of all columns of
 * a phase the middle one counts: a codec's grid is everywhere, edges that happen to lie on it are not.
 */
export function measureBlocking(picture: Picture): { ratio: number; phase: number } {
  const { width, height, data } = picture.planes[0];
  const columns = new Float64Array(width);
  const stride = Math.max(2, Math.floor(height / MAX_ROWS));
  for (let y = 0; y < height; y += stride) {
    for (let x = 2; x + 2 < width; x++) {
      const i = y * width + x;
      // A step that its neighbours do not share.
      const step = Math.abs(data[i] - data[i - 1]) - (Math.abs(data[i - 1] - data[i - 2]) + Math.abs(data[i + 1] - data[i])) / 2;
      if (step > 0 && step < 4000) columns[x] += step;
    }
  }
  const rows = Math.ceil(height / stride);
  const middles = Array.from({ length: 8 }, (_, p) => {
    const of = columns.filter((_, x) => x % 8 === p && x >= 2 && x + 2 < width).sort();
    return (of[of.length >> 1] ?? 0) / rows / SIGMA_UNIT + FLOOR;
  });
  const total = middles.reduce((a, b) => a + b, 0);
  let ratio = 1,
    phase = 0;
  for (let p = 0; p < 8; p++) {
    const r = middles[p] / ((total - middles[p]) / 7);
    if (r > ratio) [ratio, phase] = [r, p];
  }
  return { ratio, phase };
}

/** Levels of lightness that each have a tone of their own in a toned print. */
const TONES = 32;
/** Squares of 4 x 4 samples that colour is told by; of larger pictures those of every few rows. */
const MAX_SQUARES = 200_000;
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
  const stride = 4 * Math.ceil((cb.width * cb.height) / 16 / MAX_SQUARES);
  for (let y = 0; y + 4 <= cb.height; y += stride) {
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
