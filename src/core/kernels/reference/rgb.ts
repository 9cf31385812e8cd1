import { NEUTRAL_CHROMA } from '../../picture/picture';

/** What makes R'G'B' of full samples of Y', Cb and Cr. */
export interface RgbFigures {
  /** Luma of black. */
  black: number;
  /** What a code of luma and of chroma is of the result's. */
  gainY: number;
  gainC: number;
  /** Rows that make R', G' and B', see `toRgbMatrix`. */
  rows: number[][];
}

const held = (v: number, peak: number): number => (v <= 0 ? 0 : v >= peak ? peak : (v + 0.5) | 0);

/** Puts interleaved pixels into planes, from sample `at` on. @param rows that make Y', Cb and Cr, see `fromRgbMatrix`. */
export function referencePlanes(samples: Uint8Array | Uint16Array, rows: number[][], planes: Uint16Array[], at: number): void {
  const scale = samples instanceof Uint8Array ? 257 : 1;
  for (let i = 0, s = 0; s < samples.length; i++, s += 3) {
    const rgb = [samples[s] * scale, samples[s + 1] * scale, samples[s + 2] * scale];
    rows.forEach((row, n) => {
      const first = n ? NEUTRAL_CHROMA + row[0] * rgb[0] : row[0] * rgb[0];
      planes[n][at + i] = held(first + row[1] * rgb[1] + row[2] * rgb[2], 65535);
    });
  }
}

/** Interleaved pixels of planes of one size, into `out`. */
export function referenceRgb([y, cb, cr]: Uint16Array[], { black, gainY, gainC, rows }: RgbFigures, out: Uint8Array | Uint16Array): void {
  const peak = out instanceof Uint8Array ? 255 : 65535;
  for (let i = 0, o = 0; i < y.length; i++, o += 3) {
    const l = (y[i] - black) * gainY,
      b = (cb[i] - NEUTRAL_CHROMA) * gainC,
      r = (cr[i] - NEUTRAL_CHROMA) * gainC;
    out[o] = held(l + rows[0][2] * r, peak);
    out[o + 1] = held(l + rows[1][1] * b + rows[1][2] * r, peak);
    out[o + 2] = held(l + rows[2][1] * b, peak);
  }
}
