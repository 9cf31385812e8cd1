/** Figures both the SIMD kernels' bindings and the references use. */

/** Reach of the block's weight window: a raised cosine, never quite zero, which hides the windows' borders. */
export function blockWeights(): Float32Array {
  const line = Array.from({ length: 8 }, (_, i) => 0.15 + 0.85 * Math.sin((Math.PI * (i + 0.5)) / 8) ** 2);
  return Float32Array.from({ length: 64 }, (_, i) => line[i >> 3] * line[i & 7]);
}

/** Room round a plane for windows that hang over its edge and for blocks found by motion. */
export const SHRINK_MARGIN = 64;
