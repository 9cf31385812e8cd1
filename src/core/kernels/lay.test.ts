import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Plane } from '../picture/picture';
import { layChroma } from './lay';
import { type LayOptions, referenceLay } from './reference/lay';

/** Samples by chance. */
function plane(width: number, height: number, seed: number, low = 0, high = 65535): Plane {
  const data = new Uint16Array(width * height);
  let state = seed >>> 0;
  for (let i = 0; i < data.length; i++) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    data[i] = low + (state % (high - low + 1));
  }
  return { width, height, data };
}

const grain = fc.constantFrom([1, 1], [2, 1], [2, 2], [4, 1]);

it('lays colours as the reference does, whatever the grain of chroma and the part', () => {
  fc.assert(
    fc.property(
      grain,
      fc.integer({ min: 1, max: 41 }),
      fc.integer({ min: 1, max: 17 }),
      fc.nat(999),
      fc.boolean(),
      ([across, down], width, height, seed, tinted) => {
        const part = { x: (seed % 3) * across, y: (seed % 2) * down };
        const chroma = {
          ...{ x: part.x / across, y: part.y / down },
          ...{ width: Math.ceil(width / across), height: Math.ceil(height / down) },
        };
        const raster = { width: 9, height: 7 };
        const size = raster.width * raster.height;
        const places = (n: number): Float32Array =>
          Float32Array.from(plane(raster.width, raster.height, seed + n).data, (v) => v / 300 - 109);
        const bytes = (n: number): Uint8Array => Uint8Array.from(plane(raster.width, raster.height, seed + n).data, (v) => v >> 8);
        expect(places(1)).toHaveLength(size);
        const options: LayOptions = {
          raster: { ...raster, cb: places(1), cr: places(2), luma: bytes(3), ...(tinted && { kept: bytes(4) }) },
          ...{ light: plane(width, height, seed + 5), frame: { width: width + 9, height: height + 5 }, chroma, across, down },
          ...(tinted && {
            own: [plane(chroma.width, chroma.height, seed + 6, 20000, 45000), plane(chroma.width, chroma.height, seed + 7, 20000, 45000)],
          }),
          alike: Float32Array.from({ length: 256 }, (_, off) => Math.exp(-((off / 10) ** 2))),
          ...{ least: 1e-3, black: 4096, span: 56064, chromaSpan: 57344, shade: 0.5, weight: 0.9, room: 0.8 },
          rgb: [
            [0, 1.402],
            [-0.344, -0.714],
            [1.772, 0],
          ],
          matrix: [
            [1.02, 0.07],
            [-0.05, 0.98],
          ],
        };
        const [made, wanted] = [layChroma(options), referenceLay(options)];
        // The kernel counts in floats of 32 bits.
        for (const n of [0, 1]) made[n].forEach((v, i) => expect(Math.abs(v - wanted[n][i])).toBeLessThanOrEqual(8));
      },
    ),
  );
});
