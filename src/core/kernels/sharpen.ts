import { ENTRIES, plainTables } from '../picture/light';
import { newPlane, type Plane } from '../picture/picture';
import { gaussianTaps } from './reference/sharpen';
import { kernels } from './wasm';

/**
 * A plane with a Gaussian blur of `sigma` samples partly undone: Van Cittert iteration (1931), each step adding what the
 * blurred result misses of the plane, and held within the neighbours' range widened by `slack` of it, so that edges get
 * steeper without outlines. `reference/sharpen.ts` is the plain form.
 *
 * @param rounds iterations; more bring back finer detail and more of the noise.
 * @param strength share of the change that is applied, 0 to 1.
 */
export function undoBlur(plane: Plane, sigma: number, rounds: number, slack: number, strength: number): Plane {
  const { run, arena } = kernels();
  const { width, height } = plane;
  const samples = width * height;
  return arena.scope(() => {
    const { toLight, fromLight } = plainTables();
    const codes = arena.put16(plane.data);
    const source = arena.reserve(samples * 4 + 16),
      guess = arena.reserve(samples * 4 + 16),
      between = arena.reserve(samples * 4 + 16),
      soft = arena.reserve(samples * 4 + 16);
    const forward = arena.putFloats(toLight);
    run.toFloat(codes, samples, forward, source);
    run.toFloat(codes, samples, forward, guess);
    const own = gaussianTaps(sigma);
    const reach = (own.length - 1) / 2,
      count = Math.ceil(own.length / 4) * 4;
    const table = (length: number): { starts: number; weights: number } => {
      const weights = new Float32Array(length * count);
      for (let i = 0; i < length; i++) weights.set(own, i * count);
      return { starts: arena.putInts(Int32Array.from({ length }, (_, i) => i - reach)), weights: arena.putFloats(weights) };
    };
    const rows = table(height),
      columns = table(width);
    const pad = count + 64,
      line = arena.reserve((width + 2 * pad) * 4);
    for (let n = 0; n < rounds; n++) {
      run.resampleRows({
        src: guess,
        width,
        height,
        starts: rows.starts,
        weights: rows.weights,
        taps: count,
        outHeight: height,
        dst: between,
      });
      run.resampleColumns({
        src: between,
        width,
        height,
        starts: columns.starts,
        weights: columns.weights,
        taps: count,
        outWidth: width,
        pad,
        line,
        dst: soft,
      });
      run.subtract(source, soft, samples, soft);
      run.addScaled(guess, soft, 1, samples);
    }
    run.holdRange(source, width, height, slack, guess);
    run.subtract(guess, source, samples, guess);
    run.addScaled(source, guess, strength, samples);
    run.fromFloat(source, samples, arena.put16(fromLight), ENTRIES, codes);
    const result = newPlane(width, height);
    result.data.set(arena.view16(codes, samples));
    return result;
  });
}
