import type { Plane, Region } from '../picture/picture';
import { throughSpectra } from './spectra';
import { median } from '../metrics/median';

/** Side of the windows whose spectra are looked through: rings are wide. */
const SIDE = 128;
/** Pixels round a part that what is cut out of it depends on. */
export const RINGS_BORDER = SIDE;
/** Rings stand closer the farther out: periods this many times longer and shorter than the told one are looked at. */
const SPAN = 2.2;
/** Frequencies under this, in steps, are the picture's own light. */
const KEPT = 2.5;
/** Times what is usual at its frequency that the strongest wave of a window must reach, and that the waves of rings are cut down to. */
const STANDS_OUT = 6,
  LEFT = 1.2;
/** Degrees to either side of the strongest wave that rings of one window run in. */
const TURNED = 35;
/** Widths, in steps, of the rings of frequencies that tell what is usual. */
const BAND = 2;

/**
 * Takes Newton's rings out of a plane: fringes of light whose period and direction change from place to place. In each of many overlapping
 * windows the waves near the told period that stand out of all others as fine, in the direction of the strongest, are brought down to what is usual.
 * Edges and stripes in that direction lose some of their own: it is meant for a part that was painted.
 *
 * @param plane covers `region` and RINGS_BORDER round it, as far as the frame goes; its first sample lies at `origin` of the frame.
 * @param period of the rings in pixels, about.
 * @param amount 0 to 1.
 */
export function cutRings(plane: Plane, origin: { x: number; y: number }, region: Region, period: number, amount: number): Plane {
  const bins = binsOf(period);
  return throughSpectra(plane, origin, region, SIDE, (real, imaginary) => cutWaves(real, imaginary, bins, amount));
}

interface Bin {
  index: number;
  /** Ring of frequencies it belongs to. */
  band: number;
  /** Degrees, 0 to 180. */
  angle: number;
}

/** The frequencies near those of a period. */
function binsOf(period: number): Bin[] {
  const least = Math.max(KEPT, SIDE / period / SPAN),
    most = Math.min(SIDE / 2 - 1, (SIDE / period) * SPAN);
  const bins: Bin[] = [];
  for (let v = -SIDE / 2; v < SIDE / 2; v++) {
    for (let u = -SIDE / 2; u < SIDE / 2; u++) {
      const radius = Math.hypot(u, v);
      if (radius < least || radius > most) continue;
      const index = ((v + SIDE) % SIDE) * SIDE + ((u + SIDE) % SIDE);
      bins.push({ index, band: Math.floor((radius - least) / BAND), angle: ((Math.atan2(v, u) * 180) / Math.PI + 180) % 180 });
    }
  }
  return bins;
}

function cutWaves(real: Float64Array, imaginary: Float64Array, bins: Bin[], amount: number): void {
  const size = bins.map(({ index }) => Math.hypot(real[index], imaginary[index]));
  const bands: number[][] = [];
  bins.forEach(({ band }, n) => (bands[band] ??= []).push(size[n]));
  const usual = bands.map(median);
  let strongest = -1,
    most = 0;
  bins.forEach(({ band }, n) => {
    if (size[n] / (usual[band] + 1) <= most) return;
    most = size[n] / (usual[band] + 1);
    strongest = n;
  });
  if (most < STANDS_OUT) return;
  bins.forEach(({ index, band, angle }, n) => {
    const apart = Math.abs(((angle - bins[strongest].angle + 270) % 180) - 90);
    const left = LEFT * usual[band];
    if (apart > TURNED || size[n] <= left) return;
    const gain = 1 - amount * (1 - left / size[n]);
    real[index] *= gain;
    imaginary[index] *= gain;
  });
}
