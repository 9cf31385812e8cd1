import { BORDER } from '../networks/cells';
import { corrected } from '../networks/clean';
import { growRegion, type Picture, type Region } from '../picture/picture';
import { INKS, type Ink } from './inks';
import { lightOf, thresholdsOf } from './phases';

/** Pixels of a period that stand for 1 in the network's plane, as in training/halftoneSamples.py. */
const PERIOD_UNIT = 8;

/** The screens a page was printed with. */
export interface Print {
  /** Pixels from dot to dot. */
  period: number;
  /** Degrees each ink's rows are turned by; inks that are not named did not print. */
  angles: Partial<Record<Ink, number>>;
}

/**
 * Joins the dots of a printed page by the network `halftone`, which is told ink by ink how far each must have covered to lie at a pixel:
 * where a dot ends, that is what the picture held.
 *
 * @param source covers `cover`, and BORDER and `phaseBorder` round it, as far as the frame goes.
 * @param cover whole cells of the networks' raster.
 * @param amount 0 to 1.
 * @throws NetworkError when the network cannot be used.
 */
export function joinDots(source: Picture, cover: Region, { period, angles }: Print, amount: number): Promise<Picture> {
  // What the network reads for a cell is rounded up by as much as 7 pixels.
  const part = growRegion(cover, BORDER + 8, 2, source.info);
  const thresholds = INKS.map((ink) => {
    const angle = angles[ink];
    return angle === undefined ? undefined : thresholdsOf(lightOf(ink, source), { period, angle }, part);
  });
  return corrected(
    'halftone',
    source,
    cover,
    { luma: amount, chroma: amount },
    {
      planes: 4 * INKS.length + 1,
      put: (to, out, at) => {
        const size = (to.width * to.height) / 4;
        // The period's plane follows black's four.
        out.fill(period / PERIOD_UNIT, at + 4 * size, at + 5 * size);
        thresholds.forEach((values, n) => values && putFolded(values, part, to, out, at + (4 * n + (n ? 1 : 0)) * size));
      },
    },
  );
}

/** Part of a plane of floats less a half as four planes of half its size, as `fold` has them; edges repeat. */
function putFolded(values: Float32Array, of: Region, part: Region, out: Float32Array, at: number): void {
  const w = part.width / 2,
    h = part.height / 2;
  for (let y = 0; y < part.height; y++) {
    const row = Math.min(of.height - 1, Math.max(0, part.y + y - of.y)) * of.width;
    const to = at + (y % 2) * 2 * w * h + (y >> 1) * w;
    for (let x = 0; x < part.width; x++) {
      const column = Math.min(of.width - 1, Math.max(0, part.x + x - of.x));
      out[to + (x % 2) * w * h + (x >> 1)] = values[row + column] - 0.5;
    }
  }
}
