/**
 * Mean of the samples that count within `radius` pixels of each, sideways and downwards, by sums over rows and columns (Crow, 1984).
 * @param counts 1 where a sample counts, 0 where it does not.
 * @returns 0 where none does.
 */
export const meansWithin = (plane: ArrayLike<number>, counts: Uint8Array, width: number, height: number, radius: number): Float32Array =>
  meansOf(plane, counts, width, height)(radius);

/** As `meansWithin`, for several radii. */
export function meansOf(plane: ArrayLike<number>, counts: Uint8Array, width: number, height: number): (radius: number) => Float32Array {
  const stride = width + 1;
  const sums = new Float64Array(stride * (height + 1)),
    numbers = new Uint32Array(stride * (height + 1));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x,
        at = (y + 1) * stride + x + 1;
      sums[at] = sums[at - 1] + sums[at - stride] - sums[at - stride - 1] + (counts[i] ? plane[i] : 0);
      numbers[at] = numbers[at - 1] + numbers[at - stride] - numbers[at - stride - 1] + counts[i];
    }
  }
  return (radius) => {
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      const top = Math.max(0, y - radius) * stride,
        bottom = Math.min(height, y + radius + 1) * stride;
      for (let x = 0; x < width; x++) {
        const left = Math.max(0, x - radius),
          right = Math.min(width, x + radius + 1);
        const count = numbers[bottom + right] - numbers[bottom + left] - numbers[top + right] + numbers[top + left];
        if (count > 0) out[y * width + x] = (sums[bottom + right] - sums[bottom + left] - sums[top + right] + sums[top + left]) / count;
      }
    }
    return out;
  };
}
