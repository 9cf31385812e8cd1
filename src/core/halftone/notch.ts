import type { Plane, Region } from '../picture/picture';
import type { Screen } from './screens';
import { throughSpectra } from './spectra';

/** Side of the windows whose spectra are cut. */
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
  return throughSpectra(plane, origin, region, SIDE, (real, imaginary) => {
    for (let i = 0; i < gains.length; i++) {
      real[i] *= gains[i];
      imaginary[i] *= gains[i];
    }
  });
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
