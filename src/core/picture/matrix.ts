import { putPlanes, putRgbOf } from '../kernels/rgb';
import { kernels } from '../kernels/wasm';
import {
  newPlane,
  NEUTRAL_CHROMA,
  planeRegion,
  wholeRegion,
  type ColourDescription,
  type Matrix,
  type Picture,
  type Plane,
  type Region,
  type StreamInfo,
} from './picture';

/** Weights of red and blue in luma: Recommendations ITU-R BT.601, BT.709, BT.2020. */
export const LUMA_WEIGHTS: Record<Matrix, { red: number; blue: number }> = {
  bt601: { red: 0.299, blue: 0.114 },
  bt709: { red: 0.2126, blue: 0.0722 },
  bt2020: { red: 0.2627, blue: 0.0593 },
};

/** Rows that make R'G'B' (0 to 1) of Y' (0 to 1), Cb and Cr (-0.5 to 0.5). */
export function toRgbMatrix(matrix: Matrix): number[][] {
  const { red, blue } = LUMA_WEIGHTS[matrix];
  const green = 1 - red - blue;
  return [
    [1, 0, 2 * (1 - red)],
    [1, (-2 * blue * (1 - blue)) / green, (-2 * red * (1 - red)) / green],
    [1, 2 * (1 - blue), 0],
  ];
}

/** Rows that make Y', Cb, Cr of R'G'B'. */
export function fromRgbMatrix(matrix: Matrix): number[][] {
  const { red, blue } = LUMA_WEIGHTS[matrix];
  const green = 1 - red - blue;
  return [
    [red, green, blue],
    [-red / (2 * (1 - blue)), -green / (2 * (1 - blue)), 0.5],
    [0.5, -green / (2 * (1 - red)), -blue / (2 * (1 - red))],
  ];
}

/** Code offsets and spans of one range in 16 bits. */
export function codes(range: ColourDescription['range']): { black: number; luma: number; chroma: number } {
  return range === 'limited' ? { black: 4096, luma: 219 * 256, chroma: 224 * 256 } : { black: 0, luma: 65535, chroma: 65535 };
}

/** Matrix of a stream of this height whose tags say nothing: the usual default. */
export function defaultMatrix(height: number): Matrix {
  return height >= 720 ? 'bt709' : 'bt601';
}

const multiply = (a: number[][], b: number[][]): number[][] =>
  a.map((row) => [0, 1, 2].map((c) => row.reduce((sum, v, k) => sum + v * b[k][c], 0)));

/**
 * The picture with another luma matrix, in its own subsampling. Greys stay as they are, so chroma depends on chroma
 * alone, and luma gets its share of the chroma beside it.
 */
export function changeMatrix(picture: Picture, matrix: Matrix): Picture {
  const { info } = picture;
  const output: StreamInfo = { ...info, colour: { ...info.colour, matrix } };
  if (info.planes === 1 || matrix === info.colour.matrix) return { ...picture, info: output };
  const m = multiply(fromRgbMatrix(matrix), toRgbMatrix(info.colour.matrix));
  const { luma, chroma } = codes(info.colour.range);
  const [y, cb, cr] = picture.planes;
  const { run, arena } = kernels();
  return arena.scope(() => {
    const at = [y, cb, cr].map((plane) => arena.put16(plane.data));
    const gain = luma / chroma;
    run.mixLuma({
      luma: at[0],
      width: y.width,
      height: y.height,
      cb: at[1],
      cr: at[2],
      chromaWidth: cb.width,
      shiftX: info.chromaShiftX,
      shiftY: info.chromaShiftY,
      fromCb: m[0][1] * gain,
      fromCr: m[0][2] * gain,
    });
    run.mixChroma({ cb: at[1], cr: at[2], count: cb.data.length, bb: m[1][1], br: m[1][2], rb: m[2][1], rr: m[2][2] });
    const planes = [y, cb, cr].map((plane, i) => ({ ...plane, data: arena.take16(at[i], plane.data.length) }));
    return { info: output, region: picture.region, planes };
  });
}

const clamp = (v: number): number => (v <= 0 ? 0 : v >= 65535 ? 65535 : (v + 0.5) | 0);

/** Interleaved R'G'B' of `bits` 8 or 16 for showing and for still files; chroma is taken from the sample beside. */
export function toRgb(picture: Picture, bits: 8 | 16): Uint8Array | Uint16Array {
  const { info } = picture;
  const [y, cb] = picture.planes;
  const out = bits === 8 ? new Uint8Array(y.data.length * 3) : new Uint16Array(y.data.length * 3);
  const peak = bits === 8 ? 255 : 65535;
  const { black, luma, chroma } = codes(info.colour.range);
  const m = toRgbMatrix(info.colour.matrix);
  const gainY = peak / luma,
    gainC = peak / chroma;
  if (cb?.data.length === y.data.length) {
    putRgbOf(
      picture.planes.map((plane) => plane.data),
      { black, gainY, gainC, rows: m },
      out,
    );
    return out;
  }
  const limit = (v: number): number => (v <= 0 ? 0 : v >= peak ? peak : (v + 0.5) | 0);
  const rowOfChroma = chromaRows(picture);
  for (let row = 0, o = 0; row < y.height; row++) {
    const line = rowOfChroma(row);
    for (let x = 0; x < y.width; x++, o += 3) {
      const l = (y.data[row * y.width + x] - black) * gainY;
      if (!cb) {
        out[o] = out[o + 1] = out[o + 2] = limit(l);
        continue;
      }
      const b = (line.cb[x] - NEUTRAL_CHROMA) * gainC,
        r = (line.cr[x] - NEUTRAL_CHROMA) * gainC;
      out[o] = limit(l + m[0][2] * r);
      out[o + 1] = limit(l + m[1][1] * b + m[1][2] * r);
      out[o + 2] = limit(l + m[2][1] * b);
    }
  }
  return out;
}

/** Chroma at luma's places along one luma row, bilinear between the samples. */
function chromaRows(picture: Picture): (row: number) => { cb: Float32Array; cr: Float32Array } {
  const [y, cb, cr] = picture.planes;
  const { chromaShiftX: sx, chromaShiftY: sy } = picture.info;
  const line = { cb: new Float32Array(y.width), cr: new Float32Array(y.width) };
  if (!cb) return () => line;
  const fill = (plane: Plane, row: number, to: Float32Array): void => {
    const place = (row + 0.5) / (1 << sy) - 0.5;
    const r0 = Math.max(0, Math.floor(place)),
      r1 = Math.min(plane.height - 1, Math.floor(place) + 1);
    const fy = place - Math.floor(place);
    const a = r0 * plane.width,
      b = r1 * plane.width,
      last = plane.width - 1;
    const at = (c: number): number => plane.data[a + c] + (plane.data[b + c] - plane.data[a + c]) * fy;
    for (let x = 0; x < to.length; x++) {
      const c = x >> sx,
        beyond = (x - (c << sx)) / (1 << sx);
      const v = at(c);
      to[x] = beyond > 0 && c < last ? v + (at(c + 1) - v) * beyond : v;
    }
  };
  return (row) => {
    fill(cb, row, line.cb);
    fill(cr, row, line.cr);
    return line;
  };
}

/** Full-range planes of red, green and blue, 16 bits each. */
export function toRgbPlanes({ info, planes: [y, cb, cr] }: Picture): { red: Uint16Array; green: Uint16Array; blue: Uint16Array } {
  const { black, luma, chroma } = codes(info.colour.range);
  const m = toRgbMatrix(info.colour.matrix);
  const gainY = 65535 / luma,
    gainC = 65535 / chroma;
  const [red, green, blue] = [0, 1, 2].map(() => new Uint16Array(y.data.length));
  for (let i = 0; i < red.length; i++) {
    const l = (y.data[i] - black) * gainY,
      b = (cb.data[i] - NEUTRAL_CHROMA) * gainC,
      r = (cr.data[i] - NEUTRAL_CHROMA) * gainC;
    red[i] = clamp(l + m[0][2] * r);
    green[i] = clamp(l + m[1][1] * b + m[1][2] * r);
    blue[i] = clamp(l + m[2][1] * b);
  }
  return { red, green, blue };
}

/** A full-range 4:4:4 picture from planes of red, green and blue, 16 bits each. */
export function fromRgbPlanes(red: Uint16Array, green: Uint16Array, blue: Uint16Array, info: StreamInfo): Picture {
  const planes = [0, 1, 2].map(() => newPlane(info.width, info.height));
  const [y, cb, cr] = planes.map((plane) => plane.data);
  const [[yr, yg, yb], [br, bg, bb], [rr, rg, rb]] = fromRgbMatrix(info.colour.matrix);
  for (let i = 0; i < red.length; i++) {
    const r = red[i],
      g = green[i],
      b = blue[i];
    y[i] = clamp(yr * r + yg * g + yb * b);
    cb[i] = clamp(NEUTRAL_CHROMA + br * r + bg * g + bb * b);
    cr[i] = clamp(NEUTRAL_CHROMA + rr * r + rg * g + rb * b);
  }
  return { info, region: wholeRegion(info), planes };
}

/** A full-range 4:4:4 (or monochrome) picture from interleaved samples. */
export function fromRgb(samples: Uint8Array | Uint16Array, channels: 1 | 3, info: StreamInfo): Picture {
  const planes = Array.from({ length: info.planes }, () => newPlane(info.width, info.height));
  putRgb(samples, channels, info, planes, 0);
  return { info, region: wholeRegion(info), planes };
}

/** Puts interleaved samples of whole rows into the planes of a full-range 4:4:4 (or monochrome) picture, from row `top` on. */
export function putRgb(samples: Uint8Array | Uint16Array, channels: 1 | 3, info: StreamInfo, planes: Plane[], top: number): void {
  const from = top * info.width;
  if (channels === 1) {
    const scale = samples instanceof Uint8Array ? 257 : 1;
    for (let i = 0; i < samples.length; i++) planes[0].data[from + i] = samples[i] * scale;
    return;
  }
  putPlanes(
    samples,
    fromRgbMatrix(info.colour.matrix),
    planes.map((plane) => plane.data),
    from,
  );
}

/** What makes codes in the planes of a stream of red, green and blue, 0 to 65535. */
export function codesOfColours(info: StreamInfo): (parts: ArrayLike<number>) => number[] {
  const rows = fromRgbMatrix(info.colour.matrix);
  return (parts) =>
    rows.map(([red, green, blue], index) =>
      inRange(info, index, (index ? NEUTRAL_CHROMA : 0) + red * parts[0] + green * parts[1] + blue * parts[2]),
    );
}

/** Codes of a colour in the planes of a stream, in whole numbers. @param parts red, green and blue, 0 to 65535. */
export const codesOfColour = (info: StreamInfo, parts: readonly number[]): number[] =>
  codesOfColours(info)(parts).map((v) => Math.min(65535, Math.max(0, Math.round(v))));

/** A full-range code in a stream's own range. */
function inRange({ colour: { range } }: StreamInfo, index: number, v: number): number {
  const { black, luma, chroma } = codes(range);
  return index ? NEUTRAL_CHROMA + ((v - NEUTRAL_CHROMA) * chroma) / 65535 : black + (v * luma) / 65535;
}

/** A region of any stream from interleaved R'G'B' of 16 bits: chroma samples are means over the pixels they cover. */
export function pictureOfRgb(samples: Uint16Array, info: StreamInfo, region: Region): Picture {
  const { width, height } = region;
  const full: StreamInfo = { ...info, width, height, chromaShiftX: 0, chromaShiftY: 0, planes: 3 };
  const planes = fromRgb(samples, 3, full).planes.slice(0, info.planes);
  return {
    info,
    region,
    planes: planes.map((plane, index) => {
      const { width: w, height: h } = planeRegion(info, index, region);
      const across = index ? 1 << info.chromaShiftX : 1,
        down = index ? 1 << info.chromaShiftY : 1;
      const out = newPlane(w, h);
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) {
          let sum = 0;
          for (let v = 0; v < down; v++)
            for (let u = 0; u < across; u++)
              sum += plane.data[Math.min(height - 1, y * down + v) * width + Math.min(width - 1, x * across + u)];
          out.data[y * w + x] = Math.round(inRange(info, index, sum / (across * down)));
        }
      return out;
    }),
  };
}
