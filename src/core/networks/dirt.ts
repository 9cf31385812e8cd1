import { DIRT_KINDS } from '../dirt/kinds';
import { halvedPart } from '../picture/halved';
import { insideFrame, type Picture, type Region } from '../picture/picture';
import { FINDING_CHANNELS, findingPlanes } from './findingPlanes';
import { network, type NetworkName } from './model';
import { asOdds, EVEN_ODDS, ODDS_STEP } from './odds';
import { printInput } from './printCells';

/** Answers of the network of damage at each pixel: damage, and its kinds. */
const ANSWERS = 1 + DIRT_KINDS.length;

/** What is found at each pixel of a part of a picture. */
export interface FoundDirt {
  /** In the frame. */
  region: Region;
  /** Logarithm of the odds that a pixel is damaged, see `asOdds`. */
  odds: Uint8Array;
  /** The likeliest kind, as a place in `DIRT_KINDS`. */
  kind: Uint8Array;
  /** Logarithm of the odds that a pixel is stained, as `odds`, whatever else may have damaged it. */
  stains: Uint8Array;
}

/** Squares in which damage is looked for. The networks see what lies about a stain, and one that they see a part of they take for something else. */
export interface FindingRaster {
  /** Of a cell, in pixels. */
  side: number;
  /** Pixels round a cell that are looked at; twice as many for stains. */
  border: number;
}

/** What is looked at for a cell, stains included. */
export function findingPart(cell: Region, frame: { width: number; height: number }, { side, border }: FindingRaster): Region {
  // Of an odd frame the last pixel is in no pixel of half the size.
  const from = (start: number, all: number): number => Math.max(0, (Math.min(start, all - 1 - side) & ~1) - 2 * border);
  const x = from(cell.x, frame.width),
    y = from(cell.y, frame.height);
  return {
    ...{ x, y },
    width: Math.min(frame.width, cell.x + cell.width + 2 * border) - x,
    height: Math.min(frame.height, cell.y + cell.height + 2 * border) - y,
  };
}

/**
 * Looks for damage in one cell of the raster for prints: of all kinds at its own size, and for stains, which are told from what lies wider round them,
 * by a network of their own at half of it.
 *
 * @param source holds `findingPart` of the cell.
 * @param lookForStains without it none are found, in less time.
 * @throws NetworkError when a network cannot be used.
 */
export async function findInCell(source: Picture, cell: Region, raster: FindingRaster, lookForStains: boolean): Promise<FoundDirt> {
  const { answer, part } = await answered('dirt', source, printInput(cell, source.info, raster));
  const { odds, kind } = read(answer, part, cell);
  const stains = lookForStains ? await stainsIn(source, cell, raster, odds) : new Uint8Array(odds.length);
  return { region: cell, odds, kind, stains };
}

/** What a network of finding answers for a part of a picture: logarithms of odds, four planes of half the size for each pixel. */
async function answered(name: NetworkName, source: Picture, part: Region): Promise<{ answer: Float32Array; part: Region }> {
  const net = await network(name);
  return { answer: await net.run(findingPlanes(source, part), FINDING_CHANNELS, part.height / 2, part.width / 2), part };
}

/** Unfolds the answers inside the cell. */
function read(answer: Float32Array, part: Region, cell: Region): Pick<FoundDirt, 'odds' | 'kind'> {
  const { width, height } = cell;
  const half = part.width / 2,
    size = half * (part.height / 2);
  if (ANSWERS * 4 * size !== answer.length) throw new RangeError(`the network "dirt" gave ${answer.length} answers`);
  const odds = new Uint8Array(width * height),
    kind = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const fy = y + cell.y - part.y;
    for (let x = 0; x < width; x++) {
      const fx = x + cell.x - part.x;
      const corner = ((fy & 1) << 1) | (fx & 1),
        at = (fy >> 1) * half + (fx >> 1);
      const i = y * width + x;
      odds[i] = asOdds(answer[corner * size + at]);
      let best = -Infinity;
      for (let k = 0; k < DIRT_KINDS.length; k++) {
        const v = answer[(4 * (k + 1) + corner) * size + at];
        if (v <= best) continue;
        best = v;
        kind[i] = k;
      }
    }
  }
  return { odds, kind };
}

/** Natural logarithms of odds that the network of all damage may take from a stain: at its size only a stain's border stands out, and not all of that. */
const DOUBTED = 2;

/**
 * Odds of stains in a cell. The network of stains alone takes jackets and leaves for them: what the network of all damage holds unlikely counts against it.
 * @param damaged odds of damage in the cell.
 */
async function stainsIn(source: Picture, cell: Region, { side, border }: FindingRaster, damaged: Uint8Array): Promise<Uint8Array> {
  const stains = new Uint8Array(damaged.length);
  const frame = { width: source.info.width >> 1, height: source.info.height >> 1 };
  const small = {
    ...{ x: cell.x >> 1, y: cell.y >> 1 },
    width: Math.min((cell.width + 1) >> 1, frame.width - (cell.x >> 1)),
    height: Math.min((cell.height + 1) >> 1, frame.height - (cell.y >> 1)),
  };
  if (small.width < 1 || small.height < 1) return stains;
  const window = printInput(small, frame, { side: side / 2, border });
  const { answer, part } = await answered('stains', halvedPart(source, insideFrame(window, frame), frame), window);
  const half = part.width / 2,
    size = half * (part.height / 2);
  for (let y = 0, i = 0; y < cell.height; y++) {
    const fy = Math.min(small.height - 1, y >> 1) + small.y - part.y;
    for (let x = 0; x < cell.width; x++, i++) {
      const fx = Math.min(small.width - 1, x >> 1) + small.x - part.x;
      const unlikely = Math.max(-DOUBTED, Math.min(0, (damaged[i] - EVEN_ODDS) / ODDS_STEP));
      stains[i] = asOdds(answer[(((fy & 1) << 1) | (fx & 1)) * size + (fy >> 1) * half + (fx >> 1)] + unlikely);
    }
  }
  return stains;
}
