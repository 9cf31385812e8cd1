import type { Region } from '../../picture/picture';
/**
 * Hierarchical block matching on 8-bit planes, plain TypeScript: the reference the SIMD kernel is tested against.
 *
 * Every level depends only on the level above it, never on neighbours of its own level or on earlier frames, so that
 * the field is the same wherever a render starts.
 */

export interface BytePlane {
  width: number;
  height: number;
  /** Distance of rows; the plane is surrounded by MARGIN replicated samples on every side. */
  stride: number;
  data: Uint8Array;
}

/** Replicated samples round a plane, and so the longest vector that can be followed. */
export const MARGIN = 64;

export function padBytes(width: number, height: number, at: (x: number, y: number) => number): BytePlane {
  const stride = width + 2 * MARGIN;
  const data = new Uint8Array(stride * (height + 2 * MARGIN));
  for (let y = -MARGIN; y < height + MARGIN; y++) {
    const sy = Math.min(height - 1, Math.max(0, y));
    for (let x = -MARGIN; x < width + MARGIN; x++) {
      data[(y + MARGIN) * stride + x + MARGIN] = at(Math.min(width - 1, Math.max(0, x)), sy);
    }
  }
  return { width, height, stride, data };
}

/** Halves a plane both ways by the rounded mean of four. */
export function halveBytes(p: BytePlane): BytePlane {
  const at = (x: number, y: number): number => p.data[(y + MARGIN) * p.stride + x + MARGIN];
  return padBytes((p.width + 1) >> 1, (p.height + 1) >> 1, (x, y) => {
    const x1 = Math.min(p.width - 1, 2 * x + 1),
      y1 = Math.min(p.height - 1, 2 * y + 1);
    return (at(2 * x, 2 * y) + at(x1, 2 * y) + at(2 * x, y1) + at(x1, y1) + 2) >> 2;
  });
}

export interface MotionOptions {
  /** Block size on the finest level, in samples. */
  blockWidth: number;
  blockHeight: number;
  /** Reach of the full search on the coarsest level (a quarter of the size), in its samples. */
  reachX: number;
  reachY: number;
  /** Cost of a vector that is not zero, a sample of the window. */
  penalty: number;
}

export interface MotionField {
  columns: number;
  rows: number;
  /** x, y pairs, block by block, in samples of the finest level. */
  vectors: Int16Array;
}

const LEVELS = 3;
const WINDOW = 8;
/** Longest vector either way, in samples of any level. */
const LIMIT = 31;

/**
 * Vectors V for which `current(x)` is found at `before(x - V)` and, when given, at `after(x + V)`.
 */
export function referenceMotion(current: BytePlane, before: BytePlane, after: BytePlane | undefined, o: MotionOptions): MotionField {
  const pyramids = [current, before, after].map((p) => {
    const levels: BytePlane[] = [];
    for (let l = 0, q = p; l < LEVELS && q; l++, q = halveBytes(q)) levels.push(q);
    return levels;
  });
  const grid = motionGrid(current.width, current.height, o);
  let parents: Int16Array | undefined;
  let size = { columns: 0, rows: 0 };
  for (let level = LEVELS - 1; level >= 0; level--) {
    const coarse = level > 0;
    const own = coarse ? { columns: (grid.columns + 1) >> 1, rows: (grid.rows + 1) >> 1 } : grid;
    const bw = ((coarse ? 2 : 1) * o.blockWidth) >> level,
      bh = ((coarse ? 2 : 1) * o.blockHeight) >> level;
    const [c, b, a] = pyramids.map((p) => p[level]);
    const shift = level === 0 ? 1 : 0;
    const next = new Int16Array(own.columns * own.rows * 2);
    for (let by = 0; by < own.rows; by++) {
      for (let bx = 0; bx < own.columns; bx++) {
        const starts: [number, number][] = [];
        if (parents) {
          for (const [ox, oy] of [
            [0, 0],
            [-1, 0],
            [1, 0],
            [0, -1],
            [0, 1],
          ]) {
            const px = Math.min(size.columns - 1, Math.max(0, (bx >> shift) + ox));
            const py = Math.min(size.rows - 1, Math.max(0, (by >> shift) + oy));
            const at = (py * size.columns + px) * 2;
            starts.push([2 * parents[at], 2 * parents[at + 1]]);
          }
        }
        const [x, y] = searchBlock([c, b, a], { x: bx * bw, y: by * bh, width: bw, height: bh }, starts, level === 0, o);
        next[(by * own.columns + bx) * 2] = x;
        next[(by * own.columns + bx) * 2 + 1] = y;
      }
    }
    parents = next;
    size = own;
  }
  return { ...grid, vectors: parents as Int16Array };
}

/** Blocks that cover a plane. */
export function motionGrid(width: number, height: number, o: MotionOptions): { columns: number; rows: number } {
  return { columns: Math.ceil(width / o.blockWidth), rows: Math.ceil(height / o.blockHeight) };
}

const BESIDE = [
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
];
const AROUND = [...BESIDE, [-1, -1], [1, -1], [-1, 1], [1, 1]];

/** Motion of one block of plane `c` through the planes before and after it. */
function searchBlock(
  [c, b, a]: [BytePlane, BytePlane, BytePlane | undefined],
  block: Region,
  starts: [number, number][],
  fine: boolean,
  o: MotionOptions,
): [number, number] {
  // The window is centred on the block and may hang over the plane's edge into the margin.
  const ww = Math.max(WINDOW, block.width),
    wh = Math.max(WINDOW, block.height);
  const wx = block.x + ((block.width - ww) >> 1),
    wy = block.y + ((block.height - wh) >> 1);
  // Of a wide window every other row is enough.
  const skipped = ww === 16;
  let best = Infinity,
    vx = 0,
    vy = 0;
  const visit = (x: number, y: number): void => {
    if (Math.abs(x) > LIMIT || Math.abs(y) > LIMIT) return;
    let cost = x === 0 && y === 0 ? 0 : (o.penalty * ww * wh * (a ? 2 : 1)) >> (skipped ? 4 : 3);
    for (let j = 0; j < wh; j += skipped ? 2 : 1) {
      const cAt = (wy + j + MARGIN) * c.stride + wx + MARGIN;
      const bAt = cAt - y * b.stride - x;
      const aAt = cAt + y * c.stride + x;
      for (let i = 0; i < ww; i++) {
        cost += Math.abs(c.data[cAt + i] - b.data[bAt + i]);
        if (a) cost += Math.abs(c.data[cAt + i] - a.data[aAt + i]);
      }
    }
    if (cost < best) [best, vx, vy] = [cost, x, y];
  };
  visit(0, 0);
  if (starts.length === 0) {
    // Every other vector, as on a chessboard, then the neighbours of the best.
    for (let y = -o.reachY; y <= o.reachY; y++) {
      for (let x = -o.reachX + ((y + o.reachX + o.reachY) & 1); x <= o.reachX; x += 2) visit(x, y);
    }
  }
  for (const [x, y] of starts) visit(x, y);
  const [cx, cy] = [vx, vy];
  for (const [x, y] of fine ? BESIDE : AROUND) visit(cx + x, cy + y);
  return [vx, vy];
}
