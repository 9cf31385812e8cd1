import { newPlane, type Plane, type Region } from '../picture/picture';
import { transform, transformBack } from '../fourier';
import type { Screen } from './screens';

/** Side of the windows, which overlap by half; they lie on a raster that is fixed in the frame. */
const SIDE = 64;
/** Pixels round a part that it depends on. */
export const NOTCH_BORDER = SIDE;
/** Steps of frequency over which a notch closes, and harmonics it is cut at to either side. */
const WIDTH = 1.6,
  HARMONICS = 3;
/** Frequencies under this, in steps, are never cut: they are the picture's own forms. */
const KEPT = 3;

/**
 * Takes a pattern out of a plane: its lattice of frequencies is cut out of the spectra of overlapping windows, and nothing else.
 *
 * @param plane covers `region` and NOTCH_BORDER round it, as far as the frame goes; its first sample lies at `origin` of the frame.
 * @param amount 0 to 1.
 */
export function cutPattern(
  plane: Plane,
  origin: { x: number; y: number },
  region: Region,
  pattern: Pick<Screen, 'period' | 'angle'>,
  amount: number,
): Plane {
  const gains = gainsOf(pattern, amount);
  const { x: left, y: top, width, height } = region;
  const sums = new Float64Array(width * height),
    weights = new Float64Array(width * height);
  const window = Float64Array.from({ length: SIDE }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / SIDE));
  const first = (from: number): number => Math.floor(from / (SIDE / 2)) * (SIDE / 2) - SIDE / 2;
  const held = (v: number, extent: number): number => Math.min(extent - 1, Math.max(0, v));
  for (let wy = first(top); wy < top + height; wy += SIDE / 2) {
    for (let wx = first(left); wx < left + width; wx += SIDE / 2) {
      const real = new Float64Array(SIDE * SIDE),
        imaginary = new Float64Array(SIDE * SIDE);
      for (let y = 0; y < SIDE; y++) {
        const row = held(wy + y - origin.y, plane.height) * plane.width;
        for (let x = 0; x < SIDE; x++) real[y * SIDE + x] = plane.data[row + held(wx + x - origin.x, plane.width)] * window[x] * window[y];
      }
      transform(real, imaginary, SIDE);
      for (let i = 0; i < gains.length; i++) {
        real[i] *= gains[i];
        imaginary[i] *= gains[i];
      }
      transformBack(real, imaginary, SIDE);
      for (let y = Math.max(0, top - wy); y < Math.min(SIDE, top + height - wy); y++) {
        for (let x = Math.max(0, left - wx); x < Math.min(SIDE, left + width - wx); x++) {
          const i = (wy + y - top) * width + wx + x - left,
            weight = window[x] * window[y];
          sums[i] += real[y * SIDE + x] * weight;
          weights[i] += weight * weight;
        }
      }
    }
  }
  const made = newPlane(width, height);
  for (let i = 0; i < sums.length; i++) made.data[i] = Math.min(65535, Math.max(0, Math.round(sums[i] / weights[i])));
  return made;
}

/** What is left of each frequency. */
function gainsOf({ period, angle }: Pick<Screen, 'period' | 'angle'>, amount: number): Float64Array {
  const gains = new Float64Array(SIDE * SIDE).fill(1);
  const turn = (angle * Math.PI) / 180,
    step = SIDE / period;
  for (let k = -HARMONICS; k <= HARMONICS; k++) {
    for (let l = -HARMONICS; l <= HARMONICS; l++) {
      const u = step * (k * Math.cos(turn) - l * Math.sin(turn)),
        v = step * (k * Math.sin(turn) + l * Math.cos(turn));
      if (Math.hypot(u, v) < KEPT || Math.max(Math.abs(u), Math.abs(v)) > SIDE / 2 + WIDTH) continue;
      for (let dy = -4; dy <= 4; dy++) {
        for (let dx = -4; dx <= 4; dx++) {
          const x = Math.round(u) + dx,
            y = Math.round(v) + dy;
          const cut = amount * Math.exp(-0.5 * (Math.hypot(x - u, y - v) / WIDTH) ** 4);
          const i = ((y + 2 * SIDE) % SIDE) * SIDE + ((x + 2 * SIDE) % SIDE);
          gains[i] = Math.min(gains[i], 1 - cut);
        }
      }
    }
  }
  return gains;
}
