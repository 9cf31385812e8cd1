/** Seeded grain, plain TypeScript: the shared figures, and the reference the SIMD kernel is tested against. */

/** Normalised gaussian of deviation `size`; a single 1 for 0. */
export function gaussianTaps(size: number): Float32Array {
  if (size <= 0.05) return Float32Array.of(1);
  const reach = Math.max(1, Math.ceil(size * 2.5));
  const taps = Float32Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * size * size)));
  const sum = taps.reduce((a, b) => a + b, 0);
  return taps.map((t) => t / sum);
}

/** What blurred noise must be multiplied by to have deviation 1 again. */
export function noiseGain(taps: Float32Array): number {
  return 1 / taps.reduce((sum, t) => sum + t * t, 0);
}

/** One seed for a plane of a frame. */
export function noiseSeed(seed: number, frame: number, channel: number): number {
  return mix((mix((mix(seed | 0) + frame) | 0) + channel) | 0);
}

/** Integer hash with good avalanche (Wellons' search for two-round multipliers). */
export function mix(v: number): number {
  v ^= v >>> 16;
  v = Math.imul(v, 0x7feb352d);
  v ^= v >>> 15;
  v = Math.imul(v, 0x846ca68b);
  return v ^ (v >>> 16);
}

/** White noise of deviation 1 at a place: the sum of four uniform bytes of its hash. */
export function whiteNoiseAt(x: number, y: number, seed: number): number {
  const h = mix((Math.imul(y, 0x9e3779b1) + seed + mix(x)) | 0);
  return ((h & 255) + ((h >>> 8) & 255) + ((h >>> 16) & 255) + (h >>> 24) - 510) * 0.0067658;
}
