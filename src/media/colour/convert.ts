import type { RgbSpace } from './profile';
import { inverse, product } from './spaces';

/** Steps of the table from light to codes; finer where it is dark, for the table goes by the root of light. */
const STEPS = 8192;

/**
 * Converts interleaved samples in place from one space into another (relative colorimetric). What does not fit is held at the gamut's edge.
 * @param stride samples of a pixel: 3, or 4 with an opacity that stays.
 */
export function convertRgb(samples: Uint8Array | Uint16Array, stride: 3 | 4, from: RgbSpace, to: RgbSpace): void {
  const peak = samples instanceof Uint8Array ? 255 : 65535;
  const light = from.curves.map((curve) => Float32Array.from({ length: peak + 1 }, (_, v) => curve(v / peak)));
  const codes = to.curves.map((curve) => codesOfLight(curve, peak));
  const [[rr, rg, rb], [gr, gg, gb], [br, bg, bb]] = product(inverse(to.toXyz), from.toXyz);
  const coded = (table: Float32Array, v: number): number => {
    if (v <= 0) return 0;
    if (v >= 1) return peak;
    const place = Math.sqrt(v) * STEPS,
      n = Math.floor(place);
    return table[n] + (table[n + 1] - table[n]) * (place - n) + 0.5;
  };
  for (let i = 0; i < samples.length; i += stride) {
    const r = light[0][samples[i]],
      g = light[1][samples[i + 1]],
      b = light[2][samples[i + 2]];
    samples[i] = coded(codes[0], rr * r + rg * g + rb * b);
    samples[i + 1] = coded(codes[1], gr * r + gg * g + gb * b);
    samples[i + 2] = coded(codes[2], br * r + bg * g + bb * b);
  }
}

/** Codes of light at even steps of its root, by bisection of a curve that never falls. */
function codesOfLight(curve: (code: number) => number, peak: number): Float32Array {
  return Float32Array.from({ length: STEPS + 2 }, (_, n) => {
    const wanted = Math.min(1, (n / STEPS) ** 2);
    let low = 0,
      high = 1;
    for (let k = 0; k < 30; k++) {
      const middle = (low + high) / 2;
      if (curve(middle) < wanted) low = middle;
      else high = middle;
    }
    return peak * high;
  });
}
