import { findInCell, findingPart, type FindingRaster, type FoundDirt } from '../networks/dirt';
import { networkCard } from '../networks/model';
import { printCells } from '../networks/printCells';
import { halvedPart } from '../picture/halved';
import { planeRegion, type Picture, type Region } from '../picture/picture';
import type { Quality } from '../treatments/quality';
import { remembered } from '../networks/remembered';

/** What is found of each pixel. */
const PLANES = ['odds', 'kind', 'stains'] as const;

function nothingFound(region: Region): FoundDirt {
  const plane = (): Uint8Array => new Uint8Array(region.width * region.height);
  return { region, odds: plane(), kind: plane(), stains: plane() };
}

/** At what size damage is looked for: as the picture is, or at half its size, where what is a pixel wide may be missed. */
export type FindingSize = 'full' | 'half';

/** How damage is looked for. */
export interface Finding {
  size: FindingSize;
  /** Whether stains are looked for; where nobody wants them, a network less is run. */
  stains: boolean;
}

/** In pixels of that size. */
const RASTERS: Record<FindingSize, FindingRaster> = { full: { side: 512, border: 64 }, half: { side: 256, border: 32 } };
/** Side of the cells in which damage is looked for, in pixels of the picture. */
export const FINDING_CELL = RASTERS.full.side;

const rememberFound = remembered<FoundDirt>(PLANES.length * RASTERS.full.side ** 2);

/** Pixels of a picture from which fast work looks for damage at half the size. */
const LARGE = 8_000_000;

/** The size at which fast and best work look for damage in a picture. */
export const findingSize = (quality: Quality, { width, height }: { width: number; height: number }): FindingSize =>
  quality === 'fast' && width * height > LARGE ? 'half' : 'full';

const reachOf = ({ side, border }: FindingRaster): number => side + 2 * border + 2;
/** Pixels round a part that `findDirt` may look at. */
export const FINDING_REACH: Record<FindingSize, number> = { full: reachOf(RASTERS.full), half: 2 * reachOf(RASTERS.half) + 2 };

/** Part of a picture that is looked at for a part of it. */
function findingInput(region: Region, frame: { width: number; height: number }, raster: FindingRaster): Region {
  const cells = printCells(region, frame, raster.side);
  const first = findingPart(cells[0], frame, raster),
    last = findingPart(cells[cells.length - 1], frame, raster);
  return { ...first, width: last.x + last.width - first.x, height: last.y + last.height - first.y };
}

/**
 * Damage of prints in a part of a picture, cell by cell of a fixed raster: any part finds what the whole finds. What was found in a cell is
 * remembered.
 *
 * @param source holds FINDING_REACH pixels round the region, as far as the frame goes.
 * @throws NetworkError when a network cannot be used.
 */
export async function findDirt(
  source: Picture,
  region: Region,
  { size = 'full', stains = true }: Partial<Finding> = {},
): Promise<FoundDirt> {
  return size === 'full' ? findIn(source, region, RASTERS.full, stains) : findHalf(source, region, stains);
}

/** At half the size: each of its pixels speaks for four. */
async function findHalf(source: Picture, region: Region, stains: boolean): Promise<FoundDirt> {
  const frame = { width: source.info.width >> 1, height: source.info.height >> 1 };
  const x = region.x >> 1,
    y = region.y >> 1;
  const half = {
    ...{ x, y },
    width: Math.min(frame.width, (region.x + region.width + 1) >> 1) - x,
    height: Math.min(frame.height, (region.y + region.height + 1) >> 1) - y,
  };
  const found = await findIn(halvedPart(source, findingInput(half, frame, RASTERS.half), frame), half, RASTERS.half, stains);
  const out = nothingFound(region);
  const columns = Int32Array.from({ length: region.width }, (_, column) => Math.min(half.width - 1, ((region.x + column) >> 1) - x));
  const at = new Int32Array(region.width * region.height);
  for (let row = 0, i = 0; row < region.height; row++) {
    const from = Math.min(half.height - 1, ((region.y + row) >> 1) - y) * half.width;
    for (let column = 0; column < region.width; column++, i++) at[i] = from + columns[column];
  }
  for (const name of PLANES) doubled(found[name], at, out[name]);
  return out;
}

function doubled(from: Uint8Array, at: Int32Array, out: Uint8Array): void {
  for (let i = 0; i < out.length; i++) out[i] = from[at[i]];
}

async function findIn(source: Picture, region: Region, raster: FindingRaster, stains: boolean): Promise<FoundDirt> {
  const networks = (stains ? (['dirt', 'stains'] as const) : (['dirt'] as const)).map((name) => networkCard(name).sha256);
  const found = nothingFound(region);
  for (const cell of printCells(region, source.info, raster.side)) {
    const made = await rememberFound(
      [...networks, ...samplesOf(source, findingPart(cell, source.info, raster)), JSON.stringify(cell)],
      () => findInCell(source, cell, raster, stains),
    );
    const left = Math.max(cell.x, region.x),
      right = Math.min(cell.x + cell.width, region.x + region.width);
    for (let y = Math.max(cell.y, region.y); y < Math.min(cell.y + cell.height, region.y + region.height); y++) {
      const from = (y - cell.y) * cell.width + left - cell.x,
        to = (y - region.y) * region.width + left - region.x;
      for (const name of PLANES) found[name].set(made[name].subarray(from, from + right - left), to);
    }
  }
  return found;
}

/** The rows of a picture inside a part, of all planes. */
function* samplesOf(picture: Picture, part: Region): Iterable<Uint16Array> {
  for (const [index, plane] of picture.planes.entries()) {
    const own = planeRegion(picture.info, index, picture.region),
      wanted = planeRegion(picture.info, index, part);
    const left = Math.max(0, wanted.x - own.x),
      right = Math.min(plane.width, wanted.x + wanted.width - own.x);
    for (let y = Math.max(0, wanted.y - own.y); y < Math.min(plane.height, wanted.y + wanted.height - own.y); y++) {
      yield plane.data.subarray(y * plane.width + left, y * plane.width + right);
    }
  }
}
