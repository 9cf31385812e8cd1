import { newPlane, type Plane } from '../picture/picture';
import { kernels } from './wasm';

/** Blocks of one size laid over a plane, the last of a row or column smaller. */
export interface BlockGrid {
  blockWidth: number;
  blockHeight: number;
  columns: number;
  rows: number;
}

/** What can be asked of planes that lie in the kernels' memory; a mask names the planes of each block, a bit each. */
export interface BlockWork {
  /** Mean squared difference of each block of one of the planes and each of several others, in codes of 255 squared. */
  differences(plane: number, others: number[]): Float32Array[];
  /** Mean squared difference of each block of two means of planes, in codes of 255 squared; each mask names the planes of one mean. */
  differenceOfMeans(a: Uint32Array, b: Uint32Array): Float32Array;
  /** A plane whose blocks are the means that the mask names; every block names one at least. */
  average(mask: Uint32Array): Plane;
}

/** The kernel's differences are in eighths of a code. */
const UNIT = 64;

/**
 * Works on blocks of several planes, which are handed to the kernels once.
 * @param planes up to 32 of one size.
 */
export function withBlocks<T>(planes: Plane[], { blockWidth, blockHeight, columns, rows }: BlockGrid, work: (blocks: BlockWork) => T): T {
  const { run, arena } = kernels();
  const { width, height } = planes[0];
  const shape = { width, height, blockWidth, blockHeight, columns, rows };
  const count = columns * rows;
  const words = (values: Uint32Array): number => arena.put16(new Uint16Array(values.buffer, values.byteOffset, 2 * values.length));
  return arena.scope(() => {
    const at = planes.map((p) => arena.put16(p.data));
    const list = words(Uint32Array.from(at));
    const differences = (a: number, b: number): Float32Array =>
      arena.scope(() => {
        const out = arena.reserve(4 * count);
        run.blockDifferences({ ...shape, a, b, out });
        return arena.viewFloats(out, count).map((v) => v / UNIT);
      });
    const averageAt = (mask: Uint32Array): number => {
      const out = arena.reserve(2 * width * height + 16);
      run.averageBlocks({ ...shape, planes: list, count: planes.length, masks: words(mask), out });
      return out;
    };
    return work({
      differences: (plane, others) => others.map((other) => differences(at[plane], at[other])),
      differenceOfMeans: (a, b) => arena.scope(() => differences(averageAt(a), averageAt(b))),
      average: (mask) =>
        arena.scope(() => {
          const made = newPlane(width, height);
          made.data.set(arena.view16(averageAt(mask), width * height));
          return made;
        }),
    });
  });
}
