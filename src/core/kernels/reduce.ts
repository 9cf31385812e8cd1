import type { Plane } from '../picture/picture';
import { kernels } from './wasm';

/** A plane at a smaller size, as `referenceReduce`. @param width at most the plane's; so is `height`. */
export function reducedArea(plane: Plane, width: number, height: number): Plane {
  const { run, arena } = kernels();
  return arena.scope(() => {
    const out = arena.reserve(2 * width * height);
    run.reduceArea({
      ...{ plane: arena.put16(plane.data), width: plane.width, height: plane.height },
      ...{ line: arena.reserve(4 * plane.width + 16), outWidth: width, outHeight: height, out },
    });
    return { width, height, data: arena.take16(out, width * height) };
  });
}
