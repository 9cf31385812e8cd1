import type { Plane, Region } from '../picture/picture';

/** Networks see codes 0 to 255 as 0 to 1; samples are 16 bits with 256 steps a code. */
export const SCALE = 1 / 65280;

/**
 * Part of a plane as four planes of half its size: even and odd columns of even, then of odd lines (pixel-unshuffle, Shi
 * et al., 2016).
 *
 * @param origin where the plane's first sample lies in the frame.
 * @param part what to take, in samples of the frame's raster for this plane; even sizes. Edges repeat.
 * @param shiftX log2 of how many of the part's samples share one of the plane's sideways; `shiftY` downwards.
 */
export function fold(
  plane: Plane,
  origin: { x: number; y: number },
  part: Region,
  out: Float32Array,
  at: number,
  shiftX = 0,
  shiftY = 0,
): void {
  const { data, width, height } = plane;
  const w = part.width >> 1,
    size = w * (part.height >> 1);
  const columns = Int32Array.from({ length: part.width }, (_, i) => clamp(((part.x + i) >> shiftX) - origin.x, width));
  for (let y = 0; y < part.height; y++) {
    const line = clamp(((part.y + y) >> shiftY) - origin.y, height) * width;
    const even = at + (y & 1) * 2 * size + (y >> 1) * w,
      odd = even + size;
    for (let i = 0; i < w; i++) {
      out[even + i] = data[line + columns[2 * i]] * SCALE;
      out[odd + i] = data[line + columns[2 * i + 1]] * SCALE;
    }
  }
}

/** Part of a plane as it is, for planes that are at half size already. */
export function take(plane: Plane, origin: { x: number; y: number }, part: Region, out: Float32Array, at: number): void {
  const { data, width, height } = plane;
  for (let y = 0; y < part.height; y++) {
    const line = clamp(part.y + y - origin.y, height) * width;
    for (let x = 0; x < part.width; x++) out[at++] = data[line + clamp(part.x + x - origin.x, width)] * SCALE;
  }
}

/**
 * Adds folded corrections to a cell of a plane, times `share`. Where several corrections share a sample, their mean counts.
 *
 * @param into plane of the result, whose first sample lies at `origin` of the frame.
 * @param part the part the corrections are for, `cell` the cell inside it, both in the corrections' raster.
 */
export function addFolded(
  corrections: Float32Array,
  at: number,
  part: Region,
  cell: Region,
  into: Plane,
  origin: { x: number; y: number },
  share: number,
  shiftX = 0,
  shiftY = 0,
): void {
  const w = part.width >> 1,
    size = w * (part.height >> 1);
  const stepX = 1 << shiftX,
    stepY = 1 << shiftY;
  const factor = share / SCALE / (stepX * stepY);
  const right = Math.min(into.width, ((cell.x + cell.width + stepX - 1) >> shiftX) - origin.x),
    bottom = Math.min(into.height, ((cell.y + cell.height + stepY - 1) >> shiftY) - origin.y);
  for (let y = (cell.y >> shiftY) - origin.y; y < bottom; y++) {
    for (let x = (cell.x >> shiftX) - origin.x; x < right; x++) {
      let sum = 0;
      for (let j = 0; j < stepY; j++) {
        const py = ((y + origin.y) << shiftY) + j - part.y;
        for (let i = 0; i < stepX; i++) {
          const px = ((x + origin.x) << shiftX) + i - part.x;
          sum += corrections[at + ((py & 1) * 2 + (px & 1)) * size + (py >> 1) * w + (px >> 1)];
        }
      }
      const index = y * into.width + x;
      into.data[index] = toCode(into.data[index] + sum * factor);
    }
  }
}

export const toCode = (v: number): number => (v <= 0 ? 0 : v >= 65535 ? 65535 : Math.round(v));

const clamp = (v: number, size: number): number => (v < 0 ? 0 : v >= size ? size - 1 : v);
