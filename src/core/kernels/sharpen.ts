import { ENTRIES, plainTables } from '../picture/light';
import { newPlane, type Plane } from '../picture/picture';
import { gaussianFilter } from './blur';
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
    const blur = gaussianFilter(width, height, sigma);
    for (let n = 0; n < rounds; n++) {
      blur(guess, between, soft);
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
