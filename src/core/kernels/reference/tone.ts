import { NEUTRAL_CHROMA, type Plane, type Region } from '../../picture/picture';

/** A picture's samples and what their tones become. */
export interface ToneOptions {
  /** Luma, and Cb and Cr of the same size where there are any. */
  planes: readonly Plane[];
  /** Where the samples lie in the frame, and how large that is. */
  place: Region;
  frame: { width: number; height: number };
  /** Lowest luma code, the span of luma and of chroma. */
  black: number;
  span: number;
  chromaSpan: number;
  /** Rows that make red, green and blue of luma, Cb and Cr, and back; see `toRgbMatrix`. */
  rgb: number[][];
  matrix: number[][];
  /** Stops that each of 65536 codes becomes, for red, green and blue; one table for luma alone. */
  tables: readonly Float32Array[];
  /** Codes of stops from `darkest` on, `fine` to a stop. */
  codes: Uint16Array;
  darkest: number;
  fine: number;
  /** Stops that light over the frame is evened by, see `UnevenLight`. */
  uneven: { across: number; down: number; corners: number };
  /** Strength of colours, how much more pale ones gain, and the chroma, in codes, from which one is strong. */
  strength: number;
  pale: number;
  strongFrom: number;
}

const held = (v: number): number => (v <= 0 ? 0 : v >= 65535 ? 65535 : (v + 0.5) | 0);

/** Red, green and blue of a sample in stops; one value for luma alone. */
function stopsOf({ planes: [luma, cb, cr], black, span, chromaSpan, rgb, tables }: ToneOptions, i: number): number[] {
  const l = (luma.data[i] - black) * (65535 / span);
  if (!cb) return [tables[0][held(l)]];
  const b = (cb.data[i] - NEUTRAL_CHROMA) * (65535 / chromaSpan),
    r = (cr.data[i] - NEUTRAL_CHROMA) * (65535 / chromaSpan);
  return [tables[0][held(l + rgb[0][2] * r)], tables[1][held(l + rgb[1][1] * b + rgb[1][2] * r)], tables[2][held(l + rgb[2][1] * b)]];
}

/** Lightness of all samples in stops: the colours by their weight in luma. */
export function referenceStops(options: ToneOptions): Float32Array {
  const weights = options.planes.length === 1 ? [1] : options.matrix[0];
  const out = new Float32Array(options.planes[0].data.length);
  for (let i = 0; i < out.length; i++) stopsOf(options, i).forEach((v, c) => (out[i] += weights[c] * v));
  return out;
}

/**
 * The samples of a part of those given in another look: through the tables, light that varies over the frame evened, and the strength of colours last.
 *
 * @param moved stops that each sample is moved by besides.
 */
export function referenceTone(options: ToneOptions, part: Region, moved?: Float32Array): Uint16Array[] {
  const { planes, place, frame, black, span, chromaSpan, matrix, uneven, darkest, fine, strength, pale, strongFrom } = options;
  const [[yr, yg, yb], [br, bg, bb], [rr, rg, rb]] = matrix;
  const out = planes.map(() => new Uint16Array(part.width * part.height));
  const codeAt = (stops: number): number => {
    const i = (stops - darkest) * fine + 0.5;
    return options.codes[i <= 0 ? 0 : i >= options.codes.length ? options.codes.length - 1 : i | 0];
  };
  for (let y = 0; y < part.height; y++)
    for (let x = 0; x < part.width; x++) {
      const from = (part.y + y - place.y) * place.width + part.x + x - place.x,
        to = y * part.width + x;
      const u = (2 * (part.x + x + 0.5)) / frame.width - 1,
        v = (2 * (part.y + y + 0.5)) / frame.height - 1;
      const by = (moved?.[from] ?? 0) + ((uneven.across * u + uneven.down * v) / 2 + (uneven.corners * (u * u + v * v)) / 2);
      const [r, g, b] = stopsOf(options, from).map((stops) => codeAt(stops + by));
      if (planes.length === 1) {
        out[0][to] = held(black + (span / 65535) * r);
        continue;
      }
      let toBlue = br * r + bg * g + bb * b,
        toRed = rr * r + rg * g + rb * b;
      if (strength !== 1 || pale !== 1) {
        const strong = Math.min(1, Math.sqrt(toBlue * toBlue + toRed * toRed) / strongFrom);
        const scale = strength * (1 + (pale - 1) * (1 - strong));
        toBlue *= scale;
        toRed *= scale;
      }
      out[0][to] = held(black + (span / 65535) * (yr * r + yg * g + yb * b));
      out[1][to] = held(NEUTRAL_CHROMA + (chromaSpan / 65535) * toBlue);
      out[2][to] = held(NEUTRAL_CHROMA + (chromaSpan / 65535) * toRed);
    }
  return out;
}
