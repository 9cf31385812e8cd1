/**
 * Mean of the samples that count within `radius` pixels of each, sideways and downwards: sums of columns that move down row by row, and sums of those that
 * move along.
 *
 * @param counts 1 where a sample counts, 0 where it does not; left out where all do.
 * @returns 0 where none does.
 */
export function meansWithin(
  plane: ArrayLike<number>,
  counts: Uint8Array | undefined,
  width: number,
  height: number,
  radius: number,
): Float32Array {
  const out = new Float32Array(width * height);
  // Of each column what lies within reach of the row, with columns of nothing on both sides.
  const sums = new Float64Array(width + 2 * radius + 2),
    numbers = new Float64Array(sums.length);
  const first = radius + 1;
  for (let x = 0; x < width; x++) numbers[first + x] = counts ? 0 : Math.min(height, radius);
  for (let y = -radius; y < height; y++) {
    const enters = y + radius,
      leaves = y - radius - 1;
    if (enters < height) take(enters, 1);
    if (leaves >= 0) take(leaves, -1);
    if (!counts && y >= 0) numbers.fill(Math.min(height, y + radius + 1) - Math.max(0, y - radius), first, first + width);
    if (y < 0) continue;
    let sum = 0,
      number = 0;
    for (let at = first; at < first + radius; at++) {
      sum += sums[at];
      number += numbers[at];
    }
    const row = y * width;
    for (let x = 0; x < width; x++) {
      sum += sums[first + x + radius] - sums[x];
      number += numbers[first + x + radius] - numbers[x];
      if (number > 0) out[row + x] = sum / number;
    }
  }
  return out;

  function take(y: number, sign: 1 | -1): void {
    const row = y * width;
    if (counts)
      for (let x = 0; x < width; x++) {
        const counted = sign * counts[row + x];
        sums[first + x] += counted * plane[row + x];
        numbers[first + x] += counted;
      }
    else for (let x = 0; x < width; x++) sums[first + x] += sign * plane[row + x];
  }
}
