import type { Region } from '../picture/picture';

interface Size {
  width: number;
  height: number;
}

/** Damage of prints is found and mended on a raster of squares that is fixed in the frame, so that every tile finds the same. */
export const PRINT_CELL = 256;
/** Pixels round a cell that are looked at with it; beyond the frame its edge repeats. */
export const PRINT_BORDER = 32;
/** Sizes the networks take, in pixels. */
const GRID = 16;

/** The cells that a region touches, row by row. */
export function printCells({ x, y, width, height }: Region, frame: Size): Region[] {
  const cells: Region[] = [];
  for (let top = Math.floor(y / PRINT_CELL) * PRINT_CELL; top < y + height; top += PRINT_CELL) {
    for (let left = Math.floor(x / PRINT_CELL) * PRINT_CELL; left < x + width; left += PRINT_CELL) {
      cells.push({ x: left, y: top, width: Math.min(PRINT_CELL, frame.width - left), height: Math.min(PRINT_CELL, frame.height - top) });
    }
  }
  return cells;
}

/** What is read for a cell: may reach beyond the frame at its right and lower edge. */
export function printInput(cell: Region, frame: Size): Region {
  const x = Math.max(0, cell.x - PRINT_BORDER),
    y = Math.max(0, cell.y - PRINT_BORDER);
  const up = (v: number): number => Math.ceil(v / GRID) * GRID;
  return {
    x,
    y,
    width: up(Math.min(frame.width, cell.x + cell.width + PRINT_BORDER) - x),
    height: up(Math.min(frame.height, cell.y + cell.height + PRINT_BORDER) - y),
  };
}
