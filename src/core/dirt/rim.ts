import { dilated } from '../fill/hole';

/** Pixels beside a mask that may be a rim, and those from which on the picture is whole. */
const BESIDE = 2,
  CLEAR = 4;
/** Pixels to each side over which damage and the picture beyond it are taken. */
const DAMAGE = 3,
  BEYOND = 5;
/** Samples of either that say something. */
const FEWEST_DAMAGED = 3,
  FEWEST_WHOLE = 8;
/** By how much of 16 bits they differ at least, and the share of it from which a pixel is no longer of the picture. */
const APART = 2560,
  SPOILT = 0.3;
/** Pixels round one that the rim there depends on. */
export const RIM_REACH = BEYOND + CLEAR;

/**
 * A mask of damage followed to its rim. Scanners soften what they see, and a network that is sure of a spot is less so of its border; left there, it draws
 * the outline of what was mended. A pixel next to the mask is damage where it is nearer to what lies within than the picture beyond is.
 *
 * @param mask 1 where damage was found.
 * @param luma 16-bit codes.
 */
export function rimmed(mask: Uint8Array, luma: Uint16Array, width: number, height: number): Uint8Array<ArrayBuffer> {
  const out = Uint8Array.from(mask);
  const beside = dilated(mask, width, height, BESIDE),
    near = dilated(mask, width, height, CLEAR);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!beside[i] || mask[i]) continue;
      const damage = meanRound(mask, 1, x, y, DAMAGE),
        picture = meanRound(near, 0, x, y, BEYOND);
      if (damage.count < FEWEST_DAMAGED || picture.count < FEWEST_WHOLE) continue;
      const apart = damage.mean - picture.mean;
      if (Math.abs(apart) >= APART && (luma[i] - picture.mean) / apart > SPOILT) out[i] = 1;
    }
  return out;

  /** Mean luma within a square of those that a mask marks so. */
  function meanRound(marked: Uint8Array, as: number, x: number, y: number, radius: number): { mean: number; count: number } {
    const left = Math.max(0, x - radius),
      right = Math.min(width - 1, x + radius),
      bottom = Math.min(height - 1, y + radius);
    let sum = 0,
      count = 0;
    for (let row = Math.max(0, y - radius) * width; row <= bottom * width; row += width)
      for (let n = row + left; n <= row + right; n++) {
        if (marked[n] !== as) continue;
        sum += luma[n];
        count++;
      }
    return { mean: sum / Math.max(1, count), count };
  }
}
