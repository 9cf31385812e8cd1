import sharp from 'sharp';
import { type FrameSource, fromRgb, newPlane, type Picture, putRgb, type StreamInfo, wholeRegion } from '../core';
import type { MediaFacts } from './facts';
import { MAX_FRAME_PIXELS } from './limits';
import { isSrgb, SHARP_CONTAINERS } from './stillProbe';
import { UNTRUSTED_INPUT, UNTRUSTED_TARGA } from './inputs';
import { fileArgument, lastComplaint, MediaError, runTool, sharpComplaint } from './tools';

/** Large stills are decoded in strips of about so many pixels: beside the planes of a large scan there is no room for its samples once more. */
const STRIP_PIXELS = 40e6;

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

  /** Lets go of the picture; it is decoded again when it is asked for again. */
  close(): void {
    this.picture = undefined;
  }

  private async decode(): Promise<Picture> {
    if (!SHARP_CONTAINERS.has(this.facts.container)) return this.decodeCoded();
    try {
      return await this.decodeSharp();
    } catch (error) {
      throw error instanceof MediaError ? error : new MediaError(`The picture cannot be decoded: ${sharpComplaint(error)}.`);
    }
  }

  private async decodeSharp(): Promise<Picture> {
    const { info } = this;
    const deep = info.depth > 8;
    const page = this.facts.part?.page ?? 0;
    const { tagged, turned } = await nature(this.path, page);
    const channels = info.planes === 1 ? 1 : 3;
    const planes = Array.from({ length: info.planes }, () => newPlane(info.width, info.height));
    // Turned pictures are turned as a whole.
    const rows = turned ? info.height : Math.max(1, Math.ceil(STRIP_PIXELS / info.width));
    for (let top = 0; top < info.height; top += rows) {
      let image = sharp(this.path, {
        limitInputPixels: MAX_FRAME_PIXELS,
        failOn: 'none',
        ignoreIcc: !tagged || this.facts.profile !== undefined,
        page,
      }).autoOrient();
      if (rows < info.height) image = image.extract({ left: 0, top, width: info.width, height: Math.min(rows, info.height - top) });
      image = image.removeAlpha().toColourspace(channels === 1 ? (deep ? 'grey16' : 'b-w') : deep ? 'rgb16' : 'srgb');
      const { data, info: raw } = await image.raw({ depth: deep ? 'ushort' : 'uchar' }).toBuffer({ resolveWithObject: true });
      if (raw.width !== info.width || raw.height !== Math.min(rows, info.height - top))
        throw new MediaError(`The picture decodes to ${raw.width} x ${raw.height} px, not ${info.width} x ${info.height}.`);
      const samples = deep
        ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2)
        : new Uint8Array(data.buffer, data.byteOffset, data.length);
      putRgb(samples, channels, info, planes, top);
    }
    return { info, region: wholeRegion(info), planes };
  }

  private async decodeCoded(): Promise<Picture> {
    const { info } = this;
    const deep = info.depth > 8,
      grey = info.planes === 1;
    const format = grey ? (deep ? 'gray16le' : 'gray') : deep ? 'rgb48le' : 'rgb24';
    const input = this.facts.codec === 'targa' ? UNTRUSTED_TARGA : UNTRUSTED_INPUT;
    const { stdout, stderr } = await runTool('ffmpeg', [
      ...['-v', 'error', ...input, '-i', fileArgument(this.path), '-frames:v', '1'],
      ...['-sws_flags', 'accurate_rnd+full_chroma_int+full_chroma_inp', '-f', 'rawvideo', '-pix_fmt', format, 'pipe:1'],
    ]);
    const bytes = info.width * info.height * (grey ? 1 : 3) * (deep ? 2 : 1);
    if (stdout.length !== bytes) throw new MediaError(`The picture cannot be decoded: ${lastComplaint(stderr)}.`);
    const samples = new Uint8Array(stdout);
    return fromRgb(deep ? new Uint16Array(samples.buffer) : samples, grey ? 1 : 3, info);
  }
}

/** Whether an embedded profile is another than sRGB, so that its colours must be converted, and whether the picture is stored turned. */
async function nature(path: string, page: number): Promise<{ tagged: boolean; turned: boolean }> {
  const { icc, orientation } = await sharp(path, { limitInputPixels: MAX_FRAME_PIXELS, failOn: 'none', page }).metadata();
  return { tagged: icc !== undefined && !isSrgb(icc), turned: (orientation ?? 1) > 1 };
}
