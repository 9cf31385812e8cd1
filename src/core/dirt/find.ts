import { findInCell, type FoundDirt } from '../networks/dirt';
import { networkCard } from '../networks/model';
import { PRINT_BORDER, printCells, printInput } from '../networks/printCells';
import { growRegion, planeRegion, type Picture, type Region } from '../picture/picture';
import { remembered } from './remembered';

const rememberFound = remembered<FoundDirt>(1 << 17);

/** Part of a picture that `findDirt` needs for a part of it. */
export function findingInput(region: Region, frame: { width: number; height: number }): Region {
  const cells = printCells(region, frame);
  const first = cells[0],
    last = cells[cells.length - 1];
  const cover = { x: first.x, y: first.y, width: last.x + last.width - first.x, height: last.y + last.height - first.y };
  return growRegion(cover, PRINT_BORDER, 2, frame);
}

/**
 * Damage of prints in a part of a picture, cell by cell of a fixed raster: any part finds what the whole finds. What was found in a cell is
 * remembered.
 *
 * @param source holds `findingInput` of the region.
 * @throws NetworkError when the network cannot be used.
 */
export async function findDirt(source: Picture, region: Region): Promise<FoundDirt> {
  const { sha256 } = networkCard('dirt');
  const size = region.width * region.height;
  const found: FoundDirt = { region, odds: new Uint8Array(size), kind: new Uint8Array(size) };
  for (const cell of printCells(region, source.info)) {
    const made = await rememberFound([sha256, ...samplesOf(source, printInput(cell, source.info)), JSON.stringify(cell)], () =>
      findInCell(source, cell),
    );
    const left = Math.max(cell.x, region.x),
      right = Math.min(cell.x + cell.width, region.x + region.width);
    for (let y = Math.max(cell.y, region.y); y < Math.min(cell.y + cell.height, region.y + region.height); y++) {
      const from = (y - cell.y) * cell.width + left - cell.x,
        to = (y - region.y) * region.width + left - region.x;
      found.odds.set(made.odds.subarray(from, from + right - left), to);
      found.kind.set(made.kind.subarray(from, from + right - left), to);
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
