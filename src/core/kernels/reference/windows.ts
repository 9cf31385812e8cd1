/** Figures both the SIMD kernels' bindings and the references use. */

/** Weights across a window, and down it: a raised cosine, never quite zero, which hides the windows' borders. */
export const windowBell = (): Float32Array =>
  Float32Array.from({ length: 8 }, (_, i) => 0.15 + 0.85 * Math.sin((Math.PI * (i + 0.5)) / 8) ** 2);

/**
 * What the kernels' transform multiplies each orthonormal coefficient by: 8 times the row's and the column's factor, 1 for the
 * mean and sqrt(2) cos(k pi / 16) else (Arai, Agui and Nakajima, 1988).
 */
export function spectrumScale(): Float32Array {
  const line = Array.from({ length: 8 }, (_, k) => (k ? Math.SQRT2 * Math.cos((k * Math.PI) / 16) : 1));
  return Float32Array.from({ length: 64 }, (_, i) => 8 * line[i >> 3] * line[i & 7]);
}

/** Room round a plane for windows that hang over its edge and for blocks found by motion. */
export const SHRINK_MARGIN = 64;

/** Least share of the mean noise power any coefficient is given: rounding and compression leave some everywhere. */
const LEAST = 0.02;

/**
 * Noise power of grain of a radius in each of a window's 8 x 8 coefficients, column by column of the transform, against the
 * mean of all: white noise through a gaussian blur, |H(f)|^2 = exp(-4 pi^2 f^2 r^2) at f = k / 16 cycles a sample.
 */
export function grainSpectrum(size: number): Float32Array {
  const line = Array.from({ length: 8 }, (_, k) => Math.exp(-4 * Math.PI ** 2 * (k / 16) ** 2 * size * size));
  const mean = line.reduce((a, b) => a + b, 0) / 8;
  return Float32Array.from({ length: 64 }, (_, i) => Math.max(LEAST, (line[i >> 3] * line[i & 7]) / (mean * mean)));
}

/** How fast the power of coding noise rises with the square of the frequency, found on photographs through JPEG, MPEG-2 and H.264. */
const RISE = 0.052;

/** Noise power that a block codec leaves, as of `grainSpectrum`: it quantises the high frequencies coarsely, and drops most of them. */
export function codingSpectrum(): Float32Array {
  const line = Array.from({ length: 8 }, (_, k) => Math.exp(RISE * k * k));
  const mean = line.reduce((a, b) => a + b, 0) / 8;
  return Float32Array.from({ length: 64 }, (_, i) => (line[i >> 3] * line[i & 7]) / (mean * mean));
}
