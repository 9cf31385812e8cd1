import type { Plane } from '../picture/picture';
import { MARGIN, motionGrid, type MotionField, type MotionOptions } from './reference/motion';
import { kernels } from './wasm';

export type { MotionField, MotionOptions } from './reference/motion';

/** Lines of a plane that make one picture for the search: all of them, or one field. */
export interface Lines {
  plane: Plane;
  first: 0 | 1;
  step: 1 | 2;
  /** Where the plane already lies in the kernels' memory. */
  address?: number;
}

const LEVELS = 3;

/** Addresses and size of a pyramid of 8-bit planes with margins. */
function pyramid(lines: Lines): { at: number[]; widths: number[]; heights: number[] } {
  const { run, arena } = kernels();
  let width = lines.plane.width,
    height = Math.floor((lines.plane.height - lines.first + lines.step - 1) / lines.step);
  const out = { at: [] as number[], widths: [] as number[], heights: [] as number[] };
  for (let level = 0; level < LEVELS; level++) {
    const to = arena.reserve((width + 2 * MARGIN) * (height + 2 * MARGIN));
    if (level === 0)
      arena.scope(() => run.bytesFromPlane(lines.address ?? arena.put16(lines.plane.data), width, height, lines.first, lines.step, to));
    else run.halveBytes(out.at[level - 1], out.widths[level - 1], out.heights[level - 1], to);
    out.at.push(to);
    out.widths.push(width);
    out.heights.push(height);
    width = (width + 1) >> 1;
    height = (height + 1) >> 1;
  }
  return out;
}

/**
 * Motion of every block: vectors V for which `current(x)` is found at `before(x - V)` and, when given, at `after(x + V)`.
 * All three have one size. Source: hierarchical block matching (Bierling, 1988), without recursion over neighbours.
 */
export function estimateMotion(current: Lines, before: Lines, after: Lines | undefined, options: MotionOptions): MotionField {
  const { run, arena } = kernels();
  return arena.scope(() => {
    const c = pyramid(current),
      b = pyramid(before),
      a = after && pyramid(after);
    const grid = motionGrid(c.widths[0], c.heights[0], options);
    let parents = 0,
      own = { columns: 0, rows: 0 };
    for (let level = LEVELS - 1; level >= 0; level--) {
      const coarsest = level === LEVELS - 1;
      const above = own;
      own = coarsest ? { columns: (grid.columns + 1) >> 1, rows: (grid.rows + 1) >> 1 } : grid;
      const scale = coarsest ? 2 : 1;
      const vectors = arena.reserve(own.columns * own.rows * 4);
      run.motionLevel(
        c.at[level],
        b.at[level],
        a ? a.at[level] : 0,
        c.widths[level],
        c.heights[level],
        (scale * options.blockWidth) >> level,
        (scale * options.blockHeight) >> level,
        own.columns,
        own.rows,
        parents,
        above.columns,
        above.rows,
        level === LEVELS - 2 ? 1 : 0,
        options.reachX,
        options.reachY,
        options.penalty,
        vectors,
      );
      parents = vectors;
    }
    return { ...grid, vectors: new Int16Array(arena.take16(parents, own.columns * own.rows * 2).buffer) };
  });
}
