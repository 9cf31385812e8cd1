import { SIGMA_UNIT, type Plane } from '../picture/picture';

/** Grain as it is measured. */
export interface GrainReading {
  /** Deviation on the 0 to 255 scale. */
  sigma: number;
  /** Radius of a grain in pixels: deviation of the blur that would make it of white noise; 0 is white. */
  size: number;
}

const BLOCK = 16;
/** Distances, in samples, of the mask's points. */
const DISTANCES = [1, 2, 3];
/** Radii that are told apart, and the largest. */
const SIZE_STEP = 0.05;
const LARGEST = 1.6;

/**
 * Grain of a plane.
 *
 * A mask that is blind to planes and curvature (Immerkaer, 1996) is laid over each block with its points 1, 2 and 3 samples
 * apart; of all blocks that are neither black nor white the quieter ones are taken, since structure only adds to the
 * response. White noise answers alike at all distances; grain that hangs together answers less at short ones, and the
 * ratio tells its size.
 *
 * Fine texture all over a picture cannot be told from grain this way; `networks/condition.ts` can.
 *
 * @param fields whether the lines of alternate fields must not be mixed.
 * @param light the picture, where the plane is a difference of two, to know what is black and white.
 */
export function measureGrain(plane: Plane, fields: boolean, light: Plane = plane): GrainReading {
  const found = DISTANCES.map((d) => quietResponse(plane, d, fields, light));
  if (found[0] === undefined) return { sigma: 0, size: 0 };
  const responses = found.map((v) => v ?? 0);
  let best = { error: Infinity, sigma: 0, size: 0 };
  for (let size = 0; size <= LARGEST; size += SIZE_STEP) {
    const gains = DISTANCES.map((d) => maskGain(size, d));
    // Least squares over the distances.
    const sigma = responses.reduce((sum, r, i) => sum + r * gains[i], 0) / gains.reduce((sum, g) => sum + g * g, 0);
    const error = responses.reduce((sum, r, i) => sum + (r - sigma * gains[i]) ** 2, 0);
    if (error < best.error * 0.98) best = { error, sigma, size };
  }
  return { sigma: best.sigma, size: Math.round(best.size * 100) / 100 };
}

/** Response of the mask to grain of a radius, against that to white noise: from the grain's autocorrelation exp(-d^2 / 4 r^2). */
export function maskGain(size: number, distance: number): number {
  const correlation = (d: number): number => (size > 0 ? Math.exp(-(d * d) / (4 * size * size)) : 0);
  return (6 - 8 * correlation(distance) + 2 * correlation(2 * distance)) / 6;
}

/** Deviation the mask sees in the plane's quieter blocks; nothing when no block can be judged. */
function quietResponse(plane: Plane, distance: number, fields: boolean, light: Plane): number | undefined {
  const { width, height, data } = plane;
  const rows = (fields ? 2 : 1) * distance;
  const line = rows * width;
  const levels: number[] = [];
  for (let y0 = rows; y0 + BLOCK + rows <= height; y0 += BLOCK) {
    for (let x0 = distance; x0 + BLOCK + distance <= width; x0 += BLOCK) {
      let sum = 0,
        mean = 0;
      for (let y = y0; y < y0 + BLOCK; y++) {
        for (let i = y * width + x0, end = i + BLOCK; i < end; i++) {
          const l = i - distance,
            r = i + distance;
          sum += Math.abs(
            data[l - line] -
              2 * data[i - line] +
              data[r - line] -
              2 * (data[l] - 2 * data[i] + data[r]) +
              data[l + line] -
              2 * data[i + line] +
              data[r + line],
          );
          mean += light.data[i];
        }
      }
      mean /= BLOCK * BLOCK;
      if (mean < 5500 || mean > 59000) continue;
      // The mask's weights square to 36; a normal variable's mean modulus is sqrt(2 / pi) of its deviation.
      levels.push((Math.sqrt(Math.PI / 2) * sum) / (BLOCK * BLOCK * 6));
    }
  }
  if (levels.length === 0) return undefined;
  levels.sort((a, b) => a - b);
  // The quiet tenth to quarter; their order statistics lie a little below the true level of pure noise.
  const from = Math.floor(levels.length * 0.1),
    to = Math.max(from + 1, Math.floor(levels.length * 0.25));
  const quiet = levels.slice(from, to);
  return (quiet.reduce((a, b) => a + b, 0) / quiet.length / SIGMA_UNIT) * 1.06;
}
