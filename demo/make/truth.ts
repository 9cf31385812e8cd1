import path from 'node:path';
import { encodeFrames } from './encode';
import { bytesOf, type Raster } from './raster';

/**
 * What a moving item showed before its carrier and its years: every moment of it at half size, in step with the item's fields
 * (or frames, where it has none), coded finely and progressive.
 */
export class Truth {
  private readonly frames: Buffer[] = [];
  private size = { width: 0, height: 0 };

  /** Takes a moment as it is now, before the damage; gives it back for more. */
  take(picture: Raster): Raster {
    const small = halved(picture);
    this.size = { width: small.width, height: small.height };
    this.frames.push(bytesOf(small));
    return picture;
  }

  /**
   * Writes what was taken beside the other truths, under the item's name.
   * @param rate moments a second, as ffmpeg reads it.
   * @param pixelAspect as width:height, or with a slash.
   */
  async write(folder: string, item: string, rate: string, pixelAspect: string): Promise<void> {
    const filters = `scale=out_color_matrix=bt709:out_range=tv,setsar=${pixelAspect}`;
    await encodeFrames(
      this.frames,
      this.size,
      rate,
      [],
      [
        ...['-c:v', 'libx264', '-preset', 'slow', '-crf', '19', '-threads', '1', '-pix_fmt', 'yuv420p', '-vf', filters],
        ...['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-movflags', '+faststart'],
        path.join(folder, `${path.parse(item).name}.mp4`),
      ],
    );
  }
}

/** Half as wide and high, each pixel the mean of four. */
export function halved({ width, height, data }: Raster): Raster {
  const out = { width: width >> 1, height: height >> 1, data: new Float32Array((width >> 1) * (height >> 1) * 4) };
  for (let y = 0, o = 0; y < out.height; y++) {
    for (let x = 0; x < out.width; x++, o += 4) {
      const i = (2 * y * width + 2 * x) * 4;
      for (let c = 0; c < 4; c++)
        out.data[o + c] = (data[i + c] + data[i + 4 + c] + data[i + width * 4 + c] + data[i + width * 4 + 4 + c]) / 4;
    }
  }
  return out;
}
