import type { LaidPicture } from '../../picture/laid';
import { sampleBetween } from '../../picture/between';
import { moved, type Similarity } from '../frame';
import { cubicAt } from '../lay';
import type { Mesh } from '../mesh';

/** Pixels between the places whose move is found, and the Gaussian, in parts of the frame, over which the mesh's points say it together. */
const GRID = 4,
  POINTS_OVER = 0.04;

/** How far each pixel of a frame is moved. */
export interface Move {
  x: Float32Array;
  y: Float32Array;
}

export interface ReducedLuma {
  data: Uint16Array;
  width: number;
  height: number;
  by: number;
}

/** Means of luma (ITU-R BT.601) over squares of about so many pixels. */
export function reducedLuma({ data, width, height }: LaidPicture, pixels: number): ReducedLuma {
  const by = Math.max(1, Math.round(pixels));
  const w = Math.max(1, Math.floor(width / by)),
    h = Math.max(1, Math.floor(height / by));
  const out = new Uint16Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (let v = 0; v < by; v++)
        for (let u = 0; u < by; u++) {
          const i = 3 * (Math.min(height - 1, y * by + v) * width + Math.min(width - 1, x * by + u));
          sum += 0.299 * data[i] + 0.587 * data[i + 1] + 0.114 * data[i + 2];
        }
      out[y * w + x] = Math.round(sum / (by * by));
    }
  return { data: out, width: w, height: h, by };
}

/** Where each pixel of a frame lies in a reference, in its pixels: straight as both faces are, and moved as the mesh's points round it are. */
export function placesBetween(outline: Mesh, side: number, mesh: Mesh, straight: Similarity): Move {
  const spot = new Float64Array(2);
  const count = mesh.length / 2;
  const off = new Float32Array(mesh.length);
  for (let n = 0; n < count; n++) {
    moved(straight, outline[2 * n], outline[2 * n + 1], spot, 0);
    off[2 * n] = mesh[2 * n] - spot[0];
    off[2 * n + 1] = mesh[2 * n + 1] - spot[1];
  }
  const nodes = Math.ceil(side / GRID) + 1;
  const grid = new Float32Array(2 * nodes * nodes);
  for (let y = 0; y < nodes; y++)
    for (let x = 0; x < nodes; x++) {
      const u = (x * GRID) / side,
        v = (y * GRID) / side;
      let dx = 0,
        dy = 0,
        // Far from all points little is moved.
        sum = 1e-3;
      for (let n = 0; n < count; n++) {
        const weight = Math.exp(-((outline[2 * n] - u) ** 2 + (outline[2 * n + 1] - v) ** 2) / (2 * POINTS_OVER ** 2));
        dx += weight * off[2 * n];
        dy += weight * off[2 * n + 1];
        sum += weight;
      }
      grid[2 * (y * nodes + x)] = dx / sum;
      grid[2 * (y * nodes + x) + 1] = dy / sum;
    }
  const out = { x: new Float32Array(side * side), y: new Float32Array(side * side) };
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const i = y * side + x;
      moved(straight, (x + 0.5) / side, (y + 0.5) / side, spot, 0);
      const gx = (x + 0.5) / GRID,
        gy = (y + 0.5) / GRID;
      const node = 2 * (Math.floor(gy) * nodes + Math.floor(gx));
      const fx = gx % 1,
        fy = gy % 1;
      const between = (axis: number): number =>
        (grid[node + axis] * (1 - fx) + grid[node + 2 + axis] * fx) * (1 - fy) +
        (grid[node + 2 * nodes + axis] * (1 - fx) + grid[node + 2 * nodes + 2 + axis] * fx) * fy;
      out.x[i] = spot[0] + between(0);
      out.y[i] = spot[1] + between(1);
    }
  return out;
}

/** A plane of a frame, to be sampled. */
export const squareOf = (data: Float32Array, side: number): { data: Float32Array; width: number; height: number } => ({
  data,
  width: side,
  height: side,
});

/** A reference where its places say, each taken from as far beside it as the move tells. */
export function sampled({ data, width, height, by }: ReducedLuma, places: Move, side: number, move: Move): Float32Array {
  const out = new Float32Array(side * side);
  const [acrossAt, downAt] = [places.x, places.y].map((plane) => squareOf(plane, side));
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const i = y * side + x;
      const px = x + move.x[i],
        py = y + move.y[i];
      out[i] = cubicAt(data, width, height, sampleBetween(acrossAt, px, py) / by - 0.5, sampleBetween(downAt, px, py) / by - 0.5) / 65535;
    }
  return out;
}
