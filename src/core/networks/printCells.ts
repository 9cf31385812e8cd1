import type { Region } from '../picture/picture';

interface Size {
  width: number;
  height: number;
}

/** Sizes the networks take, in pixels. */
const GRID = 16;

/** The cells that a region touches, row by row, of a raster of squares that is fixed in the frame: damage is found and mended in them, so that every tile finds the same. */
export function printCells({ x, y, width, height }: Region, frame: Size, side: number): Region[] {
  const cells: Region[] = [];
  for (let top = Math.floor(y / side) * side; top < y + height; top += side) {
    for (let left = Math.floor(x / side) * side; left < x + width; left += side) {
      cells.push({ x: left, y: top, width: Math.min(side, frame.width - left), height: Math.min(side, frame.height - top) });
    }
  }
  return cells;
}

/**
 * What a network reads for a cell of a raster of squares: so many pixels round it, and no less where the frame leaves only a strip for a cell, for a
 * strip by itself shows too little. May reach beyond the frame at its right and lower edge.
 */
export function printInput(cell: Region, frame: Size, { side, border }: { side: number; border: number }): Region {
  const from = (start: number, all: number): number => Math.max(0, Math.min(start, all - side) - border) & ~1;
  const up = (v: number): number => Math.ceil(v / GRID) * GRID;
  const x = from(cell.x, frame.width),
    y = from(cell.y, frame.height);
  return {
    x,
    y,
    width: up(Math.min(frame.width, cell.x + cell.width + border) - x),
    height: up(Math.min(frame.height, cell.y + cell.height + border) - y),
  };
}
