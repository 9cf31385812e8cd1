import type { Plane, Region } from '../picture/picture';
import { gaussianTaps, noiseGain, noiseSeed } from './reference/noise';
import { kernels } from './wasm';

export interface NoiseOptions {
  /** Deviation of the grain at full amplitude, on the 0 to 255 scale, for each of 256 levels of the sample itself. */
  amplitudes: Float32Array;
  /** Radius of a grain in pixels: deviation of the blur that joins neighbouring samples; 0 is white noise. */
  size: number;
  seed: number;
  frame: number;
  /** Tells planes of one picture apart. */
  channel: number;
}

/**
 * Adds seeded grain to `plane`, which holds `region` of its frame, in place. The grain depends on the place in the frame,
 * the frame's number and the seed alone, so that any part, at any time, gets the same.
 */
export function addGrain(plane: Plane, region: Region, options: NoiseOptions): void {
  const { run, arena } = kernels();
  const taps = gaussianTaps(options.size);
  const reach = (taps.length - 1) / 2;
  arena.scope(() => {
    const width = Math.ceil((region.width + 2 * reach) / 4) * 4,
      height = region.height + 2 * reach;
    const noise = arena.reserve(width * height * 4 + 64);
    run.whiteNoise(region.x - reach, region.y - reach, width, height, noiseSeed(options.seed, options.frame, options.channel), noise);
    let from = noise,
      stride = width;
    if (reach > 0) {
      const between = arena.reserve(width * region.height * 4),
        outWidth = region.width;
      const count = Math.ceil(taps.length / 4) * 4;
      const padded = new Float32Array(count);
      padded.set(taps);
      const repeat = (length: number): { starts: number; weights: number } => ({
        starts: arena.putInts(Int32Array.from({ length }, (_, i) => i)),
        weights: arena.putFloats(Float32Array.from({ length: length * count }, (_, i) => padded[i % count])),
      });
      const rows = repeat(region.height),
        columns = repeat(outWidth);
      run.resampleRows({
        src: noise,
        width,
        height,
        starts: rows.starts,
        weights: rows.weights,
        taps: count,
        outHeight: region.height,
        dst: between,
      });
      const pad = count;
      from = arena.reserve(outWidth * region.height * 4);
      run.resampleColumns({
        src: between,
        width,
        height: region.height,
        starts: columns.starts,
        weights: columns.weights,
        taps: count,
        outWidth,
        pad,
        line: arena.reserve((width + 2 * pad) * 4),
        dst: from,
      });
      stride = outWidth;
    }
    const gain = noiseGain(taps) * 256;
    const data = arena.put16(plane.data);
    run.addNoise(data, region.width, region.height, from, stride, arena.putFloats(options.amplitudes.map((a) => a * gain)));
    plane.data.set(arena.view16(data, plane.data.length));
  });
}
