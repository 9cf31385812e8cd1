import sharp from 'sharp';
import { fromRgb } from '../core/picture/matrix';
import { wholeRegion, type Picture, type StreamInfo } from '../core/picture/picture';
import type { FrameSource } from '../core/plan/executor';
import type { MediaFacts } from './facts';
import { MAX_FRAME_PIXELS } from './limits';
import { fileArgument, lastComplaint, MediaError, runTool, SAFE_PROTOCOLS } from './tools';

/** A still as a source of one frame, decoded once and kept. */
export class StillSource implements FrameSource {
  readonly codedStep?: number;
  private picture?: Promise<Picture>;

  constructor(
    private readonly path: string,
    private readonly facts: MediaFacts,
    readonly key: string,
    readonly info: StreamInfo = facts.stream,
  ) {
    this.codedStep = facts.codedStep;
  }

  frame(): Promise<Picture> {
    this.picture ??= this.decode();
    return this.picture;
  }

  private async decode(): Promise<Picture> {
    const { info } = this;
    if (this.facts.container === 'bmp') {
      const size = ['-f', 'rawvideo', '-pix_fmt', 'rgb24', 'pipe:1'];
      const result = await runTool('ffmpeg', ['-v', 'error', ...SAFE_PROTOCOLS, '-f', 'bmp_pipe', '-i', fileArgument(this.path), ...size]);
      if (result.stdout.length !== info.width * info.height * 3)
        throw new MediaError(`The bitmap cannot be decoded: ${lastComplaint(result.stderr)}.`);
      return fromRgb(new Uint8Array(result.stdout), 3, info);
    }
    const deep = info.depth > 8;
    const tagged = await hasForeignProfile(this.path);
    let image = sharp(this.path, { limitInputPixels: MAX_FRAME_PIXELS, failOn: 'none', ignoreIcc: !tagged }).autoOrient().removeAlpha();
    image = image.toColourspace(info.planes === 1 ? (deep ? 'grey16' : 'b-w') : deep ? 'rgb16' : 'srgb');
    const { data, info: raw } = await image.raw({ depth: deep ? 'ushort' : 'uchar' }).toBuffer({ resolveWithObject: true });
    if (raw.width !== info.width || raw.height !== info.height)
      throw new MediaError(`The picture decodes to ${raw.width} x ${raw.height} px, not ${info.width} x ${info.height}.`);
    const samples = deep
      ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2)
      : new Uint8Array(data.buffer, data.byteOffset, data.length);
    const picture = fromRgb(samples, info.planes === 1 ? 1 : 3, info);
    return { ...picture, region: wholeRegion(info) };
  }
}

/** Whether an embedded profile is another than sRGB, so that its colours must be converted. */
async function hasForeignProfile(path: string): Promise<boolean> {
  const { icc } = await sharp(path, { limitInputPixels: MAX_FRAME_PIXELS, failOn: 'none' }).metadata();
  return icc !== undefined && !/s\0?R\0?G\0?B/i.test(icc.toString('latin1'));
}
