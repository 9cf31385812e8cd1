import { newPlane, type Plane } from '../picture/picture';
import { kernels } from './wasm';

/** Blocks of one size laid over a plane, the last of a row or column smaller. */
export interface BlockGrid {
  blockWidth: number;
  blockHeight: number;
  columns: number;
  rows: number;
}

/** The kernel's differences are in eighths of a code. */
const UNIT = 64;

/** Mean squared difference of each block of a plane and several others of its size, in codes of 255 squared. */
export function blockDifferences(plane: Plane, others: Plane[], grid: BlockGrid): Float32Array[] {
  const { run, arena } = kernels();
  const { width, height } = plane;
  return arena.scope(() => {
    const own = arena.put16(plane.data),
      count = grid.columns * grid.rows;
    return others.map((other) =>
      arena.scope(() => {
        const out = arena.reserve(4 * count);
        run.blockDifferences(own, arena.put16(other.data), width, height, grid.blockWidth, grid.blockHeight, grid.columns, grid.rows, out);
        return arena.viewFloats(out, count).map((v) => v / UNIT);
      }),
    );
  });
}

/**
 * Several planes made of the same ones, block by block.
 * @param planes up to 32 of one size.
 * @param masks for each plane to make and each block, the planes whose mean it is, a bit each.
 */
export function averageBlocks(planes: Plane[], masks: Uint32Array[], grid: BlockGrid): Plane[] {
  const { run, arena } = kernels();
  const { width, height } = planes[0];
  const words = (values: Uint32Array): number => arena.put16(new Uint16Array(values.buffer, values.byteOffset, 2 * values.length));
  return arena.scope(() => {
    const list = words(Uint32Array.from(planes, (p) => arena.put16(p.data)));
    return masks.map((mask) =>
      arena.scope(() => {
        const out = arena.reserve(2 * width * height + 16);
        run.averageBlocks(list, planes.length, words(mask), width, height, grid.blockWidth, grid.blockHeight, grid.columns, grid.rows, out);
        const made = newPlane(width, height);
        made.data.set(arena.view16(out, width * height));
        return made;
      }),
    );
  });
}
