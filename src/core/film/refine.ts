import type { MotionField } from '../kernels/reference/motion';
import type { Plane } from '../picture/picture';

/** Samples to each side of a block's middle that it is refined by. */
const RADIUS = 7;
const ROUNDS = 3;
/** Samples that refining may go from where the search was. */
const FURTHEST = 1.5;
/** Squared codes of 255 a sample that count for nothing: noise, and edges that tell one direction alone. */
const NOISE = 6;
/** How strongly places hold to those beside them, in the same measure, and rounds of it: what is plain goes with what lies round it. */
const TOGETHER = 3,
  SMOOTHED = 60;

/**
 * Motion to parts of a sample: the search's whole vectors refined by gradients (Lucas and Kanade, 1981), and smoothed where a place says little of its
 * own.
 *
 * @param found of square blocks of side `block`; `plane(x)` is found at `other(x - V)`.
 * @returns where each block lies in the other: x and y, in samples.
 */
export function refined(plane: Plane, other: Plane, { columns, rows, vectors, block }: MotionField & { block: number }): Float32Array {
  const out = new Float32Array(2 * columns * rows);
  const weights = new Float32Array(columns * rows);
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const i = row * columns + column;
      const begun = { x: -vectors[2 * i], y: -vectors[2 * i + 1] };
      const { x, y, weight } = refinedBlock(plane, other, (column + 0.5) * block, (row + 0.5) * block, begun);
      out.set([x, y], 2 * i);
      weights[i] = weight;
    }
  return smoothed(out, weights, columns, rows);
}

interface Gradients {
  /** Sums of products of the slopes across and down. */
  xx: number;
  xy: number;
  yy: number;
  count: number;
}

function refinedBlock(plane: Plane, other: Plane, cx: number, cy: number, begun: { x: number; y: number }) {
  const { width, height, data } = plane;
  const left = Math.max(1, Math.round(cx) - RADIUS),
    right = Math.min(width - 2, Math.round(cx) + RADIUS),
    top = Math.max(1, Math.round(cy) - RADIUS),
    bottom = Math.min(height - 2, Math.round(cy) + RADIUS);
  const g: Gradients = { xx: 0, xy: 0, yy: 0, count: 0 };
  for (let y = top; y <= bottom; y++)
    for (let x = left; x <= right; x++) {
      const i = y * width + x;
      const sx = (data[i + 1] - data[i - 1]) / 514,
        sy = (data[i + width] - data[i - width]) / 514;
      g.xx += sx * sx;
      g.xy += sx * sy;
      g.yy += sy * sy;
      g.count++;
    }
  if (g.count === 0) return { ...begun, weight: 0 };
  const damping = NOISE * g.count * 0.25;
  const least = (g.xx + g.yy) / 2 - Math.hypot((g.xx - g.yy) / 2, g.xy);
  const det = (g.xx + damping) * (g.yy + damping) - g.xy * g.xy;
  let { x: dx, y: dy } = begun;
  for (let round = 0; round < ROUNDS; round++) {
    let ex = 0,
      ey = 0;
    for (let y = top; y <= bottom; y++)
      for (let x = left; x <= right; x++) {
        const i = y * width + x;
        const off = (data[i] - sampled(other, x + dx, y + dy)) / 257;
        ex += (off * (data[i + 1] - data[i - 1])) / 514;
        ey += (off * (data[i + width] - data[i - width])) / 514;
      }
    dx += ((g.yy + damping) * ex - g.xy * ey) / det;
    dy += ((g.xx + damping) * ey - g.xy * ex) / det;
  }
  const near = Math.hypot(dx - begun.x, dy - begun.y) <= FURTHEST;
  return { ...(near ? { x: dx, y: dy } : begun), weight: least / g.count };
}

function sampled({ width, height, data }: Plane, x: number, y: number): number {
  const px = Math.min(width - 1.001, Math.max(0, x)),
    py = Math.min(height - 1.001, Math.max(0, y));
  const i = Math.floor(py) * width + Math.floor(px);
  const a = px % 1,
    b = py % 1;
  return (data[i] * (1 - a) + data[i + 1] * a) * (1 - b) + (data[i + width] * (1 - a) + data[i + width + 1] * a) * b;
}

/** Each place between what it says itself and what those beside it do, as far as it has a say. */
function smoothed(vectors: Float32Array, weights: Float32Array, columns: number, rows: number): Float32Array {
  let from = vectors;
  for (let round = 0; round < SMOOTHED; round++) {
    const to = new Float32Array(vectors.length);
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        const i = row * columns + column;
        let sum = weights[i],
          x = weights[i] * vectors[2 * i],
          y = weights[i] * vectors[2 * i + 1];
        const join = (n: number): void => {
          sum += TOGETHER;
          x += TOGETHER * from[2 * n];
          y += TOGETHER * from[2 * n + 1];
        };
        if (column > 0) join(i - 1);
        if (column < columns - 1) join(i + 1);
        if (row > 0) join(i - columns);
        if (row < rows - 1) join(i + columns);
        to[2 * i] = x / sum;
        to[2 * i + 1] = y / sum;
      }
    from = to;
  }
  return from;
}
