import { tapsBetween } from '../picture/between';
import type { LayOptions } from './reference/lay';
import { kernels } from './wasm';

export type { LayOptions } from './reference/lay';

/** Colours of a small raster laid over a part of a picture, as `referenceLay`: its Cb and Cr. */
export function layChroma(options: LayOptions): [Uint16Array, Uint16Array] {
  const { run, arena } = kernels();
  const { raster, light, frame, chroma, across, down, own, alike, least } = options;
  const { width, height } = chroma;
  const { cb, cr, luma, kept } = raster;
  return arena.scope(() => {
    const places = new Float32Array(4 * cb.length);
    for (let i = 0; i < cb.length; i++) {
      places[4 * i] = cb[i];
      places[4 * i + 1] = cr[i];
      places[4 * i + 2] = luma[i];
      places[4 * i + 3] = kept ? kept[i] : 0;
    }
    /** Of each sample of a row or a column: the places before and after it, and how far it lies beyond. */
    const taps = (first: number, count: number, each: number, extent: number, size: number): number => {
      const bytes = new DataView(new ArrayBuffer(12 * count));
      for (let n = 0; n < count; n++) {
        const [before, after, beyond] = tapsBetween(((first + n + 0.5) * each) / extent, size);
        bytes.setInt32(12 * n, before, true);
        bytes.setInt32(12 * n + 4, after, true);
        bytes.setFloat32(12 * n + 8, beyond, true);
      }
      return arena.put8(new Uint8Array(bytes.buffer));
    };
    const figures = [...options.rgb.flat(), ...options.matrix.flat()];
    figures.push(options.black, options.span, options.chromaSpan, options.shade, options.weight, options.room);
    const [outCb, outCr] = [0, 1].map(() => arena.reserve(2 * width * height));
    const [ownCb, ownCr] = own ? own.map(({ data }) => arena.put16(data)) : [0, 0];
    run.layRows({
      ...{ raster: arena.putFloats(places), rasterWidth: raster.width, alike: arena.putFloats(alike), least },
      ...{ light: arena.put16(light.data), lightWidth: light.width, lightHeight: light.height, across, down },
      columns: taps(chroma.x, width, across, frame.width, raster.width),
      rows: taps(chroma.y, height, down, frame.height, raster.height),
      ...{ width, height, figures: arena.putFloats(Float32Array.from(figures)) },
      ...{ ownCb, ownCr, ownWidth: own ? own[0].width : 0, outCb, outCr },
    });
    return [arena.take16(outCb, width * height), arena.take16(outCr, width * height)];
  });
}
