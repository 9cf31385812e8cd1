import type { Region } from '../picture/picture';

interface Size {
  width: number;
  height: number;
}

/**
 * Networks work cell by cell, on a raster that is fixed in the frame: a cell's result depends on the frame alone and not
 * on the part that was asked for, so a proof shows what the render will give, and memory stays bounded.
 */
export const CELL: Size = { width: 384, height: 256 };

/** Pixels round a cell that its result may depend on; beyond the frame its edge repeats. */
export const BORDER = 24;

/** The smallest union of cells that covers a region. */
export function cellsCover(region: Region, frame: Size): Region {
  const x = Math.floor(region.x / CELL.width) * CELL.width,
    y = Math.floor(region.y / CELL.height) * CELL.height;
  const right = Math.ceil((region.x + region.width) / CELL.width) * CELL.width,
    bottom = Math.ceil((region.y + region.height) / CELL.height) * CELL.height;
  return { x, y, width: Math.min(frame.width, right) - x, height: Math.min(frame.height, bottom) - y };
}

/** The cells of a cover, row by row. */
export function cellsOf(cover: Region, frame: Size): Region[] {
  const cells: Region[] = [];
  for (let y = cover.y; y < cover.y + cover.height; y += CELL.height) {
    for (let x = cover.x; x < cover.x + cover.width; x += CELL.width) {
      cells.push({ x, y, width: Math.min(CELL.width, frame.width - x), height: Math.min(CELL.height, frame.height - y) });
    }
  }
  return cells;
}

/**
 * What a network reads for a cell: the cell and its border inside the frame, its sizes rounded up to a multiple of 8, as
 * two foldings of halves need; the rest beyond the frame is filled by repeating its edge.
 */
export function cellInput(cell: Region, frame: Size): Region {
  const x = Math.max(0, cell.x - BORDER),
    y = Math.max(0, cell.y - BORDER);
  const up = (v: number): number => Math.ceil(v / 8) * 8;
  return {
    x,
    y,
    width: up(Math.min(frame.width, cell.x + cell.width + BORDER) - x),
    height: up(Math.min(frame.height, cell.y + cell.height + BORDER) - y),
  };
}
