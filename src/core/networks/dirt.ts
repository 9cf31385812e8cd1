import type { Picture, Region } from '../picture/picture';
import { FINDING_CHANNELS, findingPlanes } from './findingPlanes';
import { network } from './model';
import { printInput } from './printCells';

/** Answers at each pixel: damage, and six kinds. */
const KINDS = 6,
  ANSWERS = 1 + KINDS;

/** What is found at each pixel of a part of a picture. */
export interface FoundDirt {
  /** In the frame. */
  region: Region;
  /** Logarithm of the odds that a pixel is damaged: 128 for even odds, 16 steps for each natural logarithm. */
  odds: Uint8Array;
  /** The likeliest kind, as a place in `DIRT_KINDS`. */
  kind: Uint8Array;
}

/** Steps of `FoundDirt.odds` for a natural logarithm, and what stands for even odds. */
export const ODDS_STEP = 16,
  EVEN_ODDS = 128;

/**
 * Looks for damage in one cell of the raster for prints.
 * @param source holds what `printInput` of the cell names, as far as it lies in the frame.
 * @throws NetworkError when the network cannot be used.
 */
export async function findInCell(source: Picture, cell: Region): Promise<FoundDirt> {
  const net = await network('dirt');
  const part = printInput(cell, source.info);
  return read(await net.run(findingPlanes(source, part), FINDING_CHANNELS, part.height / 2, part.width / 2), part, cell);
}

/** Unfolds the answers inside the cell. */
function read(answer: Float32Array, part: Region, cell: Region): FoundDirt {
  const { width, height } = cell;
  const half = part.width / 2,
    size = half * (part.height / 2);
  const odds = new Uint8Array(width * height),
    kind = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const fy = y + cell.y - part.y;
    for (let x = 0; x < width; x++) {
      const fx = x + cell.x - part.x;
      const corner = ((fy & 1) << 1) | (fx & 1),
        at = (fy >> 1) * half + (fx >> 1);
      const i = y * width + x;
      odds[i] = Math.min(255, Math.max(0, Math.round(EVEN_ODDS + ODDS_STEP * answer[corner * size + at])));
      let best = -Infinity;
      for (let k = 0; k < KINDS; k++) {
        const v = answer[(4 * (k + 1) + corner) * size + at];
        if (v <= best) continue;
        best = v;
        kind[i] = k;
      }
    }
  }
  if (ANSWERS * 4 * size !== answer.length) throw new RangeError(`the network "dirt" gave ${answer.length} answers`);
  return { region: cell, odds, kind };
}
