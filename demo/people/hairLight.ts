import type { Strand } from './hair';
import type { Vector } from './head';
import { unit } from './place';

/** Voxels a side, and what they cover, in units of the head. */
const SIDE = 56,
  FROM: Vector = [-1.9, -3.2, -1.9],
  SPAN = 3.8;
const VOXEL = SPAN / SIDE,
  /** The volume is higher than wide. */
  HIGH = Math.ceil(5 / VOXEL);
/** Optical depth of all of a head's hair, if it were in one place: what makes its outer tenth take two thirds of the light. */
const DEPTH = 9;
/** How much of the light of a deeper layer is scattered on rather than lost. */
const SCATTERED = 0.12;

/** Where hair is dense, and how much light comes through it: deep opacity in a grid (Kajiya & Von Herzen, 1984, "Ray Tracing Volume Densities"). */
export class HairVolume {
  private readonly density = new Float32Array(SIDE * HIGH * SIDE);

  /** @param solid whether a point is inside what lets no light through. */
  constructor(strands: Strand[], solid: (p: Vector) => boolean) {
    let steps = 0;
    for (const { points } of strands) steps += points.length;
    for (const { points } of strands)
      for (const p of points) {
        const i = this.index(p);
        if (i >= 0) this.density[i] += (DEPTH * 20) / steps / VOXEL;
      }
    for (let z = 0; z < SIDE; z++)
      for (let y = 0; y < HIGH; y++)
        for (let x = 0; x < SIDE; x++) {
          const p: Vector = [FROM[0] + (x + 0.5) * VOXEL, FROM[1] + (y + 0.5) * VOXEL, FROM[2] + (z + 0.5) * VOXEL];
          if (solid(p)) this.density[(z * HIGH + y) * SIDE + x] = 40;
        }
  }

  private index([x, y, z]: Vector): number {
    const i = Math.floor((x - FROM[0]) / VOXEL),
      j = Math.floor((y - FROM[1]) / VOXEL),
      k = Math.floor((z - FROM[2]) / VOXEL);
    return i < 0 || j < 0 || k < 0 || i >= SIDE || j >= HIGH || k >= SIDE ? -1 : (k * HIGH + j) * SIDE + i;
  }

  /** How much of the light from directions arrives at a point, 0 to 1; their mean. */
  lit(...from: Vector[]): (p: Vector) => number {
    const through = new Float32Array(this.density.length);
    for (const direction of from) this.march(unit(direction), through, 1 / from.length);
    return (p) => sampled(through, p);
  }

  /** Adds what arrives in each voxel from one direction. */
  private march(d: Vector, through: Float32Array, share: number): void {
    for (let z = 0; z < SIDE; z++)
      for (let y = 0; y < HIGH; y++)
        for (let x = 0; x < SIDE; x++) {
          let sum = 0;
          for (let s = 1; sum < 8; s++) {
            const i = Math.round(x + s * d[0]),
              j = Math.round(y + s * d[1]),
              k = Math.round(z + s * d[2]);
            if (i < 0 || j < 0 || k < 0 || i >= SIDE || j >= HIGH || k >= SIDE) break;
            sum += this.density[(k * HIGH + j) * SIDE + i] * VOXEL;
          }
          through[(z * HIGH + y) * SIDE + x] += share * ((1 - SCATTERED) * Math.exp(-sum) + SCATTERED * Math.exp(-sum / 4));
        }
  }
}

/** Between the middles of voxels; 1 outside. */
function sampled(grid: Float32Array, [x, y, z]: Vector): number {
  const fx = (x - FROM[0]) / VOXEL - 0.5,
    fy = (y - FROM[1]) / VOXEL - 0.5,
    fz = (z - FROM[2]) / VOXEL - 0.5;
  const i = Math.floor(fx),
    j = Math.floor(fy),
    k = Math.floor(fz);
  if (i < 0 || j < 0 || k < 0 || i + 1 >= SIDE || j + 1 >= HIGH || k + 1 >= SIDE) return 1;
  const a = fx - i,
    b = fy - j,
    c = fz - k,
    at = (k * HIGH + j) * SIDE + i,
    up = SIDE,
    deep = SIDE * HIGH;
  const row = (n: number): number => grid[n] * (1 - a) + grid[n + 1] * a;
  const layer = (n: number): number => row(n) * (1 - b) + row(n + up) * b;
  return layer(at) * (1 - c) + layer(at + deep) * c;
}
