/**
 * Grain removal in overlapping 8 x 8 cosine windows, plain TypeScript: the reference the SIMD kernel is tested against.
 *
 * Each window is transformed; a coefficient M is multiplied by M^4 / (M^4 + T^4), T being `threshold` times the noise: a
 * soft form of "keep what stands out of the noise". Windows overlap, and each counts the more the fewer coefficients it
 * kept, since sparse windows are the better explained (Yu and Sapiro, 2011). With neighbouring frames, the window found by
 * motion in each is merged in first, coefficient by coefficient, by d^2 / (d^2 + trust x noise) of their difference d
 * (Hasinoff and others, 2016), and T falls with the noise that is left.
 */

import { windowBell } from './windows';

export interface ShrinkJob {
  width: number;
  height: number;
  /** The plane to clean, then its neighbours. */
  planes: Uint16Array[];
  /** x, y a block for each neighbour. */
  vectors: Int16Array[];
  columns: number;
  rows: number;
  blockWidth: number;
  blockHeight: number;
  step: number;
  /** In 16-bit steps. */
  sigma: number;
  spectrum: Float32Array;
  trust: number;
  threshold: number;
  keep: number;
  /** Share of the noise's power in each motion block. */
  levels?: Float32Array;
}

const COSINES = Array.from({ length: 8 }, (_, k) =>
  Array.from({ length: 8 }, (_, n) => (k === 0 ? Math.SQRT1_2 : 1) * 0.5 * Math.cos((Math.PI * (2 * n + 1) * k) / 16)),
);

/** Orthonormal two-dimensional cosine transform of type II; `back` for its inverse. */
export function cosineTransform(block: Float64Array, back = false): Float64Array {
  const lines = new Float64Array(64),
    out = new Float64Array(64);
  const factor = (k: number, n: number): number => (back ? COSINES[n][k] : COSINES[k][n]);
  for (let y = 0; y < 8; y++) for (let k = 0; k < 8; k++) for (let n = 0; n < 8; n++) lines[y * 8 + k] += factor(k, n) * block[y * 8 + n];
  for (let k = 0; k < 8; k++) for (let x = 0; x < 8; x++) for (let n = 0; n < 8; n++) out[k * 8 + x] += factor(k, n) * lines[n * 8 + x];
  return out;
}

export function shrinkReference(job: ShrinkJob): Uint16Array {
  const { width, height, step, spectrum } = job;
  const count = job.planes.length;
  const sums = new Float64Array(width * height),
    weights = new Float64Array(width * height),
    bell = windowBell();
  const clamp = (v: number, top: number): number => Math.min(top, Math.max(0, v));
  const cut = (plane: Uint16Array, x: number, y: number): Float64Array =>
    Float64Array.from({ length: 64 }, (_, i) => plane[clamp(y + (i >> 3), height - 1) * width + clamp(x + (i & 7), width - 1)]);
  for (let wy = step - 8; wy < height; wy += step) {
    for (let wx = step - 8; wx < width; wx += step) {
      const own = cosineTransform(cut(job.planes[0], wx, wy));
      const merged = own.slice(),
        kept = new Float64Array(64),
        share = new Float64Array(64).fill(1);
      const bx = clamp(Math.trunc((wx + 4) / job.blockWidth), job.columns - 1),
        by = clamp(Math.trunc((wy + 4) / job.blockHeight), job.rows - 1);
      const variance = job.sigma ** 2 * (job.levels?.[by * job.columns + bx] ?? 1),
        limit = job.threshold ** 2 * variance;
      for (let n = 1; n < count; n++) {
        const v = (by * job.columns + bx) * 2;
        const other = cosineTransform(cut(job.planes[n], wx - job.vectors[n - 1][v], wy - job.vectors[n - 1][v + 1]));
        for (let i = 0; i < 64; i++) {
          const d = own[i] - other[i],
            apart = (d * d) / (d * d + variance * job.trust * spectrum[i] + 1);
          merged[i] += other[i] + apart * d;
          kept[i] += (1 - apart) ** 2;
          share[i] += apart;
        }
      }
      let energy = 0;
      const shrunk = Float64Array.from(merged, (sum, i) => {
        const m = sum / count,
          noise = count > 1 ? (kept[i] + share[i] ** 2) / count ** 2 : 1;
        const gain = m ** 4 / (m ** 4 + (limit * spectrum[i] * noise) ** 2 + 1);
        energy += gain * gain;
        return m * gain;
      });
      shrunk[0] = merged[0] / count;
      const clean = cosineTransform(shrunk, true);
      for (let i = 0; i < 64; i++) {
        const x = wx + (i & 7),
          y = wy + (i >> 3);
        if (x < 0 || y < 0 || x >= width || y >= height) continue;
        const weight = (bell[i >> 3] * bell[i & 7]) / (1 + energy);
        sums[y * width + x] += weight * clean[i];
        weights[y * width + x] += weight;
      }
    }
  }
  return Uint16Array.from(sums, (sum, i) => {
    const clean = sum / weights[i];
    return Math.min(65535, Math.max(0, Math.floor(clean + job.keep * (job.planes[0][i] - clean) + 0.5)));
  });
}
