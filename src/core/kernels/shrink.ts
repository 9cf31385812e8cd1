import { newPlane, SIGMA_UNIT, type Plane } from '../picture/picture';
import type { MotionField, MotionOptions } from './reference/motion';
import { SHRINK_MARGIN, spectrumScale, windowBell } from './reference/windows';
import { kernels } from './wasm';

export interface ShrinkOptions {
  /** Deviation of the noise on the 0 to 255 scale. */
  sigma: number;
  /** Power of the noise in each of 8 x 8 coefficients, column by column, against the mean of all: `grainSpectrum`, `codingSpectrum`. */
  spectrum: Float32Array;
  /** Samples between windows: 2 is thorough, 4 fast. */
  step: 2 | 4;
  /** How many times the noise a coefficient must reach to be kept. */
  threshold: number;
  /** How far, in noise power, frames may differ and still be averaged. */
  trust: number;
  /** Share of the noise to leave, 0 to 1, and the plane it is taken from where that is not the one to clean. */
  keep: number;
  original?: Plane;
  /** How much of the noise's power each motion block has; all of it where left out. */
  levels?: Float32Array;
}

/** A neighbouring frame's plane, with where each block of the frame to clean is found in it. */
export interface Neighbour {
  plane: Plane;
  motion: MotionField;
}

/** Noise power in each coefficient as the kernel scales them. */
function scaled(spectrum: Float32Array): Float32Array {
  const scale = spectrumScale();
  return spectrum.map((power, i) => power * scale[i] ** 2);
}

/**
 * One plane with its noise taken off, by itself or with the help of neighbouring frames.
 * Source of the method: cosine-window shrinkage (Yu and Sapiro, 2011), with pairwise merging of aligned frames in the
 * frequency domain (Hasinoff and others, 2016); a coefficient is averaged only as far as the frames agree in it, so
 * nothing that moved leaves a ghost.
 *
 * @param block size of the motion blocks in this plane's samples.
 */
export function shrinkGrain(
  plane: Plane,
  neighbours: Neighbour[],
  block: Pick<MotionOptions, 'blockWidth' | 'blockHeight'>,
  options: ShrinkOptions,
): Plane {
  const { run, arena } = kernels();
  const { width, height } = plane;
  return arena.scope(() => {
    const padded = [plane, ...neighbours.map((n) => n.plane)].map((p) => {
      const to = arena.reserve((width + 2 * SHRINK_MARGIN) * (height + 2 * SHRINK_MARGIN) * 2);
      arena.scope(() => run.padPlane(arena.put16(p.data), width, height, SHRINK_MARGIN, to));
      return to;
    });
    const fields = neighbours.map((n) => arena.put16(n.motion.vectors));
    const list = (addresses: number[]): number => arena.put16(new Uint16Array(Uint32Array.from(addresses).buffer));
    const grid = neighbours[0]?.motion ?? { columns: Math.ceil(width / block.blockWidth), rows: Math.ceil(height / block.blockHeight) };
    const out = arena.reserve(width * height * 2);
    const sumStride = (width + 19) & ~3;
    run.shrinkPlane({
      planes: list(padded),
      vectors: list(fields.length ? fields : [0]),
      others: neighbours.length,
      width,
      height,
      margin: SHRINK_MARGIN,
      step: options.step,
      columns: grid.columns,
      rows: grid.rows,
      blockWidth: block.blockWidth,
      blockHeight: block.blockHeight,
      sigma: options.sigma * SIGMA_UNIT,
      levels: options.levels ? arena.putFloats(options.levels) : 0,
      spectrum: arena.putFloats(scaled(options.spectrum)),
      trust: options.trust,
      threshold: options.threshold,
      keep: options.keep,
      original: arena.put16((options.original ?? plane).data),
      bell: arena.putFloats(windowBell()),
      sums: arena.reserve(sumStride * (height + 16) * 8),
      strips: arena.reserve(sumStride * 17 * 4),
      scratch: arena.reserve(64 + (padded.length + 1) * 256),
      out,
    });
    const result = newPlane(width, height);
    result.data.set(arena.view16(out, width * height));
    return result;
  });
}
