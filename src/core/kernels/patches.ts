import type { PatchSearch, PatchVote } from './reference/patches';
import { kernels } from './wasm';

/** As of `reference/patches.ts`. */
export function searchPatches(search: PatchSearch): void {
  const { run, arena } = kernels();
  const { width, height, planes, trust, usable, targets, rounds, seed, reach, matches, distances } = search;
  const size = width * height;
  arena.scope(() => {
    const samples = arena.reserve(size * planes.length);
    planes.forEach((plane, p) => arena.view8(samples + p * size, size).set(plane));
    const found = arena.putInts(matches),
      apart = arena.putInts(distances);
    run.searchPatches({
      planes: samples,
      count: planes.length,
      width,
      height,
      trust: arena.put8(trust),
      usable: arena.put8(usable),
      targets: arena.putInts(targets),
      targetCount: targets.length,
      rounds,
      seed,
      reach,
      matches: found,
      distances: apart,
    });
    matches.set(new Int32Array(arena.memory.buffer, found, size));
    distances.set(new Int32Array(arena.memory.buffer, apart, size));
  });
}

/** As of `reference/patches.ts`. */
export function votePatches({ width, height, planes, targets, matches, weights, wanted }: PatchVote): Float32Array[] {
  const { run, arena } = kernels();
  const size = width * height;
  return arena.scope(() => {
    const samples = arena.reserve(2 * size * planes.length);
    planes.forEach((plane, p) => arena.view16(samples + 2 * p * size, size).set(plane));
    const sums = arena.putFloats(new Float32Array(size * (planes.length + 1)));
    run.votePatches({
      planes: samples,
      count: planes.length,
      width,
      height,
      targets: arena.putInts(targets),
      targetCount: targets.length,
      matches: arena.putInts(matches),
      weights: arena.putFloats(weights),
      wanted: arena.put8(wanted),
      sums,
    });
    return [...planes, wanted].map((_, p) => arena.takeFloats(sums + 4 * p * size, size));
  });
}
