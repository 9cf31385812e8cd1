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

/** What the mask sees in one block, in 16-bit steps, and the block's lightness. */
interface Response {
  level: number;
  light: number;
}

/** Of larger planes one block in several is looked at. */
const MAX_BLOCKS = 8000;

/** Responses of the plane's blocks that are neither black nor white, the quietest first. */
function responsesOf(plane: Plane, distance: number, fields: boolean, light: Plane): Response[] {
  const { width, height, data } = plane;
  const rows = (fields ? 2 : 1) * distance;
  const line = rows * width;
  const found: Response[] = [];
  const every = Math.ceil((width * height) / (BLOCK * BLOCK * MAX_BLOCKS));
  for (let y0 = rows, n = 0; y0 + BLOCK + rows <= height; y0 += BLOCK, n++) {
    for (let x0 = distance; x0 + BLOCK + distance <= width; x0 += BLOCK, n++) {
      if (n % every) continue;
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
      found.push({ level: (Math.sqrt(Math.PI / 2) * sum) / (BLOCK * BLOCK * 6), light: mean });
    }
  }
  return found.sort((a, b) => a.level - b.level);
}

/** Deviation the mask sees in the plane's quieter blocks; undefined when no block can be judged. */
function quietResponse(plane: Plane, distance: number, fields: boolean, light: Plane): number | undefined {
  const found = responsesOf(plane, distance, fields, light);
  if (found.length === 0) return undefined;
  // The quiet tenth to quarter; their order statistics lie a little below the true level of pure noise.
  const from = Math.floor(found.length * 0.1),
    to = Math.max(from + 1, Math.floor(found.length * 0.25));
  const quiet = found.slice(from, to);
  return (quiet.reduce((sum, r) => sum + r.level, 0) / quiet.length / SIGMA_UNIT) * 1.06;
}

/** Blocks of which anything can be said about a picture as a whole. */
const ENOUGH_BLOCKS = 30;
/** How much the quiet quarter of the blocks may vary, at the finest and at the widest distance, from its quietest twentieth on. */
const EVEN = { fine: 1.2, wide: 1.3 };
/** As much as noise alone varies, from block to block: no texture was seen so even over parts that are unlike. */
const AS_NOISE = { fine: 1.09, wide: 1.13 };
/** How much more the busiest blocks must answer where it is not as even: a picture that is the same all over may be a texture. */
const BUSIER = 1.5;
/** Codes of 255 by which the quiet blocks must differ in lightness, for the same reason. */
const UNLIKE = 20;

/** What the noise of a picture's parts says of its cause. */
export type Evenness =
  /** The quiet parts all have one level of noise, though they are unlike one another and others are busier: grain is like that. */
  | 'grain'
  /** No part is busier than others: it may be a texture. */
  | 'same all over'
  /** Neither, or there are no plain parts to tell by. */
  | 'unclear';

/** Whether a picture's parts share one level of noise, as under grain and not under texture. */
export function evennessOf(plane: Plane): Evenness {
  const fine = spreadOf(plane, DISTANCES[0]),
    wide = spreadOf(plane, DISTANCES[DISTANCES.length - 1]);
  if (!fine || !wide) return 'unclear';
  const within = (bounds: typeof EVEN): boolean => fine.even < bounds.fine && wide.even < bounds.wide;
  const busier = wide.busier > BUSIER;
  if (fine.unlike > UNLIKE && (within(AS_NOISE) || (within(EVEN) && busier))) return 'grain';
  return busier ? 'unclear' : 'same all over';
}

/** How even the quiet blocks are, how much busier others, and how unlike the quiet ones in lightness; undefined where there are few. */
function spreadOf(plane: Plane, distance: number): { even: number; busier: number; unlike: number } | undefined {
  const found = responsesOf(plane, distance, false, plane);
  if (found.length < ENOUGH_BLOCKS) return undefined;
  const at = (share: number): number => found[Math.floor(share * (found.length - 1))].level;
  const lights = found.slice(0, Math.ceil(found.length / 4)).map((r) => r.light / SIGMA_UNIT);
  lights.sort((a, b) => a - b);
  return {
    even: at(0.25) / Math.max(1, at(0.05)),
    busier: at(0.9) / Math.max(1, at(0.25)),
    unlike: lights[Math.floor(0.9 * (lights.length - 1))] - lights[Math.floor(0.1 * (lights.length - 1))],
  };
}
