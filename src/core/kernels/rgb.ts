import type { RgbFigures } from './reference/rgb';
import { kernels } from './wasm';

export type { RgbFigures } from './reference/rgb';

/** Pixels that are worked on at once, so that the kernels' memory stays small beside a large scan. */
const AT_ONCE = 1 << 19;

/** Puts interleaved pixels into planes, as `referencePlanes`. */
export function putPlanes(samples: Uint8Array | Uint16Array, rows: number[][], planes: Uint16Array[], at: number): void {
  const { run, arena } = kernels();
  const wide = samples instanceof Uint16Array;
  const pixels = samples.length / 3;
  for (let first = 0; first < pixels; first += AT_ONCE) {
    const count = Math.min(AT_ONCE, pixels - first);
    arena.scope(() => {
      const matrix = arena.put8(new Uint8Array(Float64Array.from(rows.flat()).buffer));
      const part = samples.subarray(3 * first, 3 * (first + count));
      const from = part instanceof Uint16Array ? arena.put16(part) : arena.put8(part);
      const [luma, cb, cr] = planes.map(() => arena.reserve(2 * count));
      run.planesOfRgb({ from, wide, count, matrix, luma, cb, cr });
      [luma, cb, cr].forEach((made, n) => planes[n].set(arena.view16(made, count), at + first));
    });
  }
}

/** Interleaved pixels of planes of one size, as `referenceRgb`. */
export function putRgbOf(planes: Uint16Array[], { black, gainY, gainC, rows }: RgbFigures, out: Uint8Array | Uint16Array): void {
  const { run, arena } = kernels();
  const wide = out instanceof Uint16Array;
  const pixels = planes[0].length;
  for (let first = 0; first < pixels; first += AT_ONCE) {
    const count = Math.min(AT_ONCE, pixels - first);
    arena.scope(() => {
      // In the order in which ../assembly/rgb.ts reads them.
      const figures = Float64Array.of(black, gainY, gainC, rows[0][2], rows[1][1], rows[1][2], rows[2][1]);
      const [luma, cb, cr] = planes.map((plane) => arena.put16(plane.subarray(first, first + count)));
      const made = arena.reserve((wide ? 6 : 3) * (count + 1));
      run.rgbOfPlanes({ luma, cb, cr, count, figures: arena.put8(new Uint8Array(figures.buffer)), wide, out: made });
      if (wide) out.set(arena.view16(made, 3 * count), 3 * first);
      else out.set(arena.view8(made, 3 * count), 3 * first);
    });
  }
}
