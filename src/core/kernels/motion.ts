import type { Plane } from '../picture/picture';
import { MARGIN, motionGrid, type MotionField, type MotionOptions } from './reference/motion';
import { kernels } from './wasm';

export type { MotionField, MotionOptions } from './reference/motion';

/** Lines of a plane that make one picture for the search: all of them, or one field. */
export interface Lines {
  plane: Plane;
  first: 0 | 1;
  step: 1 | 2;
}

const LEVELS = 3;

/** A picture for the search in the kernels' memory: 8-bit planes with margins, each half the size of the one before. */
export interface Pyramid {
  at: number[];
  widths: number[];
  heights: number[];
}

/** Room for a pyramid, given by `reserve`. */
export function pyramidRoom(width: number, height: number, reserve: (bytes: number) => number): Pyramid {
  const out: Pyramid = { at: [], widths: [], heights: [] };
  for (let level = 0; level < LEVELS; level++) {
    out.at.push(reserve((width + 2 * MARGIN) * (height + 2 * MARGIN)));
    out.widths.push(width);
    out.heights.push(height);
    width = (width + 1) >> 1;
    height = (height + 1) >> 1;
  }
  return out;
}

/** Fills a pyramid from lines `first`, `first + step`, ... of a plane at `address`. */
export function fillPyramid(pyramid: Pyramid, address: number, first: number, step: number): void {
  const { run } = kernels();
  const { at, widths, heights } = pyramid;
  run.bytesFromPlane(address, widths[0], heights[0], first, step, at[0]);
  for (let level = 1; level < LEVELS; level++) run.halveBytes(at[level - 1], widths[level - 1], heights[level - 1], at[level]);
}

function pyramidOf({ plane, first, step }: Lines): Pyramid {
  const { arena } = kernels();
  const pyramid = pyramidRoom(plane.width, Math.floor((plane.height - first + step - 1) / step), (bytes) => arena.reserve(bytes));
  arena.scope(() => fillPyramid(pyramid, arena.put16(plane.data), first, step));
  return pyramid;
}

/**
 * Motion of every block: vectors V for which `current(x)` is found at `before(x - V)` and, when given, at `after(x + V)`.
 * All three have one size. Source: hierarchical block matching (Bierling, 1988), without recursion over neighbours.
 */
export function estimateMotion(current: Lines, before: Lines, after: Lines | undefined, options: MotionOptions): MotionField {
  return kernels().arena.scope(() => searchMotion(pyramidOf(current), pyramidOf(before), after && pyramidOf(after), options));
}

/** Motion from one picture to each of several others, which it is compared with one by one. */
export function estimateMotions(current: Lines, others: Lines[], options: MotionOptions): MotionField[] {
  const { arena } = kernels();
  return arena.scope(() => {
    const own = pyramidOf(current);
    return others.map((other) => arena.scope(() => searchMotion(own, pyramidOf(other), undefined, options)));
  });
}

/** The search over pyramids; leaves the vectors as a copy. */
export function searchMotion(c: Pyramid, b: Pyramid, a: Pyramid | undefined, options: MotionOptions): MotionField {
  const { run, arena } = kernels();
  const grid = motionGrid(c.widths[0], c.heights[0], options);
  return arena.scope(() => {
    let parents = 0;
    let own = { columns: 0, rows: 0 };
    for (let level = LEVELS - 1; level >= 0; level--) {
      const coarse = level > 0;
      const above = own;
      own = coarse ? { columns: (grid.columns + 1) >> 1, rows: (grid.rows + 1) >> 1 } : grid;
      const scale = coarse ? 2 : 1;
      const vectors = arena.reserve(own.columns * own.rows * 4);
      run.motionLevel({
        current: c.at[level],
        before: b.at[level],
        after: a ? a.at[level] : 0,
        width: c.widths[level],
        height: c.heights[level],
        blockWidth: (scale * options.blockWidth) >> level,
        blockHeight: (scale * options.blockHeight) >> level,
        columns: own.columns,
        rows: own.rows,
        parents,
        parentColumns: above.columns,
        parentRows: above.rows,
        parentShift: level === 0 ? 1 : 0,
        reachX: options.reachX,
        reachY: options.reachY,
        penalty: options.penalty,
        vectors,
      });
      parents = vectors;
    }
    return { ...grid, vectors: new Int16Array(arena.take16(parents, own.columns * own.rows * 2).buffer) };
  });
}

/**
 * A plane with each block taken from where it was; beyond the plane its edge repeats.
 *
 * @param options of the search, whose blocks are halved `shiftX` times sideways and `shiftY` times downwards, as the plane was.
 */
export function movedBlocks(plane: Plane, motion: MotionField, options: MotionOptions, shiftX: number, shiftY: number): Plane {
  const { run, arena } = kernels();
  const { width, height, data } = plane;
  return arena.scope(() => {
    const out = arena.reserve(data.byteLength);
    const vectors = arena.put16(motion.vectors);
    run.moveBlocks({
      src: arena.put16(data),
      width,
      height,
      vectors,
      columns: motion.columns,
      rows: motion.rows,
      blockWidth: options.blockWidth >> shiftX,
      blockHeight: options.blockHeight >> shiftY,
      shiftX,
      shiftY,
      dst: out,
    });
    return { width, height, data: arena.take16(out, data.length) };
  });
}
