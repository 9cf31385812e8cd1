import { newPlane, type Plane, type Region } from '../picture/picture';
import { gaussianTaps } from './reference/sharpen';
import { kernels } from './wasm';

/** Floats that stand for the codes of a plane run from 0 to 1. */
const CODES = 65535;

/**
 * A Gaussian filter for planes of floats of one size, in the kernels' memory; lives as long as the scope it is made in.
 * @param sigma deviation in samples.
 * @returns what filters: addresses of the plane, of a plane to work in, and of the result.
 */
export function gaussianFilter(width: number, height: number, sigma: number): (src: number, between: number, dst: number) => void {
  const { run, arena } = kernels();
  const own = gaussianTaps(sigma);
  const reach = (own.length - 1) / 2,
    taps = Math.ceil(own.length / 4) * 4;
  const table = (length: number): { starts: number; weights: number } => {
    const weights = new Float32Array(length * taps);
    for (let i = 0; i < length; i++) weights.set(own, i * taps);
    return { starts: arena.putInts(Int32Array.from({ length }, (_, i) => i - reach)), weights: arena.putFloats(weights) };
  };
  const rows = table(height),
    columns = table(width);
  const pad = taps + 64,
    line = arena.reserve((width + 2 * pad) * 4);
  return (src, between, dst) => {
    run.resampleRows({ src, width, height, ...rows, taps, outHeight: height, dst: between });
    run.resampleColumns({ src: between, width, height, ...columns, taps, outWidth: width, pad, line, dst });
  };
}

/**
 * A part of a plane blurred by a Gaussian.
 *
 * @param own where the plane lies in the frame; it covers `region` and three deviations round it, as far as the frame goes.
 * @param sigma deviation in samples.
 * @param amount share of the blurred plane in the result, 0 to 1.
 */
export function blurPlane(plane: Plane, own: { x: number; y: number }, region: Region, sigma: number, amount: number): Plane {
  const { run, arena } = kernels();
  const { width, height, data } = plane;
  const samples = width * height;
  return arena.scope(() => {
    const [source, between, soft] = [0, 1, 2].map(() => arena.reserve(samples * 4 + 16));
    run.plainToFloat(arena.put16(data), samples, source);
    gaussianFilter(width, height, sigma)(source, between, soft);
    const blurred = arena.viewFloats(soft, samples);
    const made = newPlane(region.width, region.height);
    for (let y = 0; y < region.height; y++) {
      const row = (region.y + y - own.y) * width + region.x - own.x;
      for (let x = 0; x < region.width; x++) {
        const v = data[row + x];
        made.data[y * region.width + x] = Math.min(CODES, Math.max(0, Math.round(v + amount * (CODES * blurred[row + x] - v))));
      }
    }
    return made;
  });
}
