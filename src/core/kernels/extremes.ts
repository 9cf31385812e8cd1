import { kernels } from './wasm';

/**
 * The least or the highest sample of the square round each (erosion and dilation, Serra, Image Analysis and Mathematical Morphology, 1982);
 * beyond the plane nothing counts.
 *
 * @param plane floats, `width` to a row.
 * @param radius samples from the middle of the square to its border.
 */
export function extremes(plane: Float32Array, width: number, height: number, radius: number, which: 'least' | 'highest'): Float32Array {
  const { run, arena } = kernels();
  return arena.scope(() => {
    const src = arena.putFloats(plane);
    const [between, dst] = [0, 1].map(() => arena.reserve(plane.byteLength));
    const line = arena.reserve(4 * (width + 2 * radius) + 32);
    run.squareExtremes({ src, width, height, radius, highest: which === 'highest', between, line, dst });
    return arena.takeFloats(dst, plane.length);
  });
}
