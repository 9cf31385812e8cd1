import { tapsBetween } from '../../picture/between';
import type { Plane, Region } from '../../picture/picture';

/** Colours on a small raster, and the part of a picture that they are laid over. */
export interface LayOptions {
  raster: {
    width: number;
    height: number;
    /** Chroma by lightness, in codes of 255 (Cb and Cr of BT.601). */
    cb: Float32Array;
    cr: Float32Array;
    /** Lightness, and how far colours of the picture's own stay, 0 to 255; none do where left out. */
    luma: Uint8Array;
    kept?: Uint8Array;
  };
  /** Luma of the part, which begins with a whole chroma sample. */
  light: Plane;
  /** Size of the frame, and where the part's chroma lies in that of the frame. */
  frame: { width: number; height: number };
  chroma: Region;
  /** Luma samples to a chroma sample, sideways and downwards. */
  across: number;
  down: number;
  /** The picture's own chroma over the same part; none where left out. */
  own?: [Plane, Plane];
  /** What each code of lightness apart makes a place of the raster count, 256 of them, and what it counts at the least. */
  alike: Float32Array;
  least: number;
  /** Lowest luma code, the span of luma and of chroma. */
  black: number;
  span: number;
  chromaSpan: number;
  /** What chroma has of its own in black. */
  shade: number;
  /** How much is laid over what there is, 0 to 1. */
  weight: number;
  /** Share of what red, green and blue leave that colours take at most. */
  room: number;
  /** What red, green and blue have of Cb and Cr, and the stream's Cb and Cr of those of BT.601. */
  rgb: number[][];
  matrix: number[][];
}

/** The code of no colour. */
const NEUTRAL = 32768;

/** Joint bilateral upsampling (Kopf and others, 2007) of colours by lightness: Cb and Cr of the part. */
export function referenceLay(options: LayOptions): [Uint16Array, Uint16Array] {
  const { raster, light, frame, chroma, across, down, own, alike, least, black, span, matrix } = options;
  const { width, height } = chroma;
  const out: [Uint16Array, Uint16Array] = [new Uint16Array(width * height), new Uint16Array(width * height)];
  const lightness = (code: number): number => Math.min(1, Math.max(0, (code - black) / span));
  for (let y = 0; y < height; y++) {
    const [top, low, below] = tapsBetween(((chroma.y + y + 0.5) * down) / frame.height, raster.height);
    for (let x = 0; x < width; x++) {
      const [left, far, beside] = tapsBetween(((chroma.x + x + 0.5) * across) / frame.width, raster.width);
      const samples: number[] = [];
      for (let v = y * down; v < Math.min(light.height, (y + 1) * down); v++)
        for (let u = x * across; u < Math.min(light.width, (x + 1) * across); u++) samples.push(light.data[v * light.width + u]);
      const luma = lightness(samples.reduce((sum, v) => sum + v, 0) / samples.length);
      let b = 0,
        r = 0,
        stays = 0,
        all = 0;
      for (const [row, near] of [
        [top, 1 - below],
        [low, below],
      ])
        for (const [column, close] of [
          [left, 1 - beside],
          [far, beside],
        ]) {
          const i = row * raster.width + column;
          const part = (least + near * close) * (least + alike[Math.floor(Math.abs(raster.luma[i] - 255 * luma) + 0.5)]);
          b += part * raster.cb[i];
          r += part * raster.cr[i];
          stays += part * (raster.kept?.[i] ?? 0);
          all += part;
        }
      const [madeB, madeR] = matrix.map(([ofB, ofR]) => ((luma + options.shade) * (ofB * b + ofR * r)) / (255 * all));
      // What is within bounds at the darkest and the lightest pixel of a sample is so at all of them.
      const held = Math.min(...[Math.min(...samples), Math.max(...samples)].map((code) => limit(options, lightness(code), madeB, madeR)));
      const weight = options.weight * (1 - stays / (255 * all));
      const to = y * width + x;
      [madeB, madeR].forEach((made, n) => {
        const before = own ? own[n].data[to] - NEUTRAL : 0;
        out[n][to] = Math.min(
          65535,
          Math.max(0, Math.floor(NEUTRAL + 0.5 + before + weight * (held * options.chromaSpan * made - before))),
        );
      });
    }
  }
  return out;
}

/** How much of a chroma (parts of one) a luma from 0 to 1 takes before red, green or blue would leave what there is. */
const limit = ({ rgb, room }: LayOptions, luma: number, b: number, r: number): number =>
  Math.min(
    ...rgb.map(([ofB, ofR]) => {
      const off = ofB * b + ofR * r;
      const free = room * (off > 0 ? 1 - luma : luma);
      return free < Math.abs(off) ? free / Math.abs(off) : 1;
    }),
  );
