import { meansWithin } from '../fill/means';
import type { Rgb } from '../vision/rgb';
import { SCALE, type Subject } from './subject';

/** How far a place looks round for colours of subject and ground, in parts of the longer side. */
const NEAR = 0.07;
/** Likelihoods from which on a place is subject, or ground, whatever its colour. */
const SURE = 0.8,
  SURELY_NOT = 0.2;
/** Codes of 255 that colours of one thing differ by at the least. */
const SPREAD = 4;
/** How much is given on colours beside the network's own word, and the most of it: in natural logarithms of odds. */
const WEIGHT = 0.35,
  MOST = 12;
/** Radius of the guided filter, and the variance of lightness from which on it keeps an edge. */
const RADIUS = 6,
  EDGE = 60 / 255 ** 2;

/**
 * A coarse likelihood of being subject, brought to the edges of the picture: near the line between them, places are told by whether their colour is
 * that of the surest subject or of the surest ground round them (normal distributions of each colour within reach), and a guided filter (He, Sun
 * and Tang, 2010) follows what edges there are.
 *
 * @param likelihood `side` x `side`, 0 to 1, over the whole picture.
 */
export function refineSubject(likelihood: Float32Array, side: number, picture: Rgb): Subject {
  const { width, height } = picture;
  const coarse = spread(likelihood, side, width, height);
  const odds = byColour(coarse, picture, Math.round(NEAR * Math.max(width, height)));
  const size = width * height;
  const mean = (values: Float32Array): Float32Array => meansWithin(values, undefined, width, height, RADIUS);
  const { data } = picture;
  const light = new Float32Array(size);
  for (let i = 0; i < size; i++) light[i] = (0.299 * data[3 * i] + 0.587 * data[3 * i + 1] + 0.114 * data[3 * i + 2]) / 255;
  const times = (a: Float32Array, b: Float32Array): Float32Array => a.map((v, i) => v * b[i]);
  const means = { light: mean(light), odds: mean(odds), squares: mean(times(light, light)), both: mean(times(light, odds)) };
  const slopes = new Float32Array(size),
    levels = new Float32Array(size);
  for (let i = 0; i < size; i++) {
    const variance = Math.max(0, means.squares[i] - means.light[i] ** 2);
    slopes[i] = (means.both[i] - means.light[i] * means.odds[i]) / (variance + EDGE);
    levels[i] = means.odds[i] - slopes[i] * means.light[i];
  }
  const whole = (values: Float32Array): Int16Array =>
    Int16Array.from(mean(values), (v) => Math.round(Math.min(31, Math.max(-31, v)) * SCALE));
  return { width, height, slopes: whole(slopes), levels: whole(levels), share: odds.reduce((sum, v) => sum + v, 0) / size };
}

/** A square of values over a picture, interpolated. */
function spread(values: Float32Array, side: number, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  const place = (at: number, size: number): number => Math.min(side - 1.001, Math.max(0, ((at + 0.5) * side) / size - 0.5));
  for (let y = 0; y < height; y++) {
    const v = place(y, height),
      row = Math.floor(v) * side;
    for (let x = 0; x < width; x++) {
      const u = place(x, width),
        at = row + Math.floor(u);
      const above = values[at] + (values[at + 1] - values[at]) * (u % 1),
        below = values[at + side] + (values[at + side + 1] - values[at + side]) * (u % 1);
      out[y * width + x] = above + (below - above) * (v % 1);
    }
  }
  return out;
}

/** How likely each place is subject, by its own colour and those of what is sure round it. */
function byColour(coarse: Float32Array, { data, width, height }: Rgb, reach: number): Float32Array {
  const size = width * height;
  const subject = Uint8Array.from(coarse, (v) => Number(v > SURE)),
    ground = Uint8Array.from(coarse, (v) => Number(v < SURELY_NOT));
  const logs = new Float32Array(size);
  const values = new Float32Array(size),
    squares = new Float32Array(size);
  for (let c = 0; c < 3; c++) {
    for (let i = 0; i < size; i++) squares[i] = (values[i] = data[3 * i + c]) ** 2;
    const [ms, ss, mg, sg] = [subject, ground].flatMap((counts) => [
      meansWithin(values, counts, width, height, reach),
      meansWithin(squares, counts, width, height, reach),
    ]);
    for (let i = 0; i < size; i++) {
      if (subject[i] || ground[i] || ss[i] === 0 || sg[i] === 0) continue;
      const vs = Math.max(0, ss[i] - ms[i] ** 2) + SPREAD ** 2,
        vg = Math.max(0, sg[i] - mg[i] ** 2) + SPREAD ** 2;
      logs[i] += (values[i] - mg[i]) ** 2 / (2 * vg) - (values[i] - ms[i]) ** 2 / (2 * vs) + Math.log(vg / vs) / 2;
    }
  }
  return coarse.map((v, i) => {
    if (subject[i]) return 1;
    if (ground[i]) return 0;
    const held = Math.min(0.999, Math.max(0.001, v));
    const odds = Math.log(held / (1 - held)) + WEIGHT * Math.min(MOST, Math.max(-MOST, logs[i]));
    return 1 / (1 + Math.exp(-odds));
  });
}
