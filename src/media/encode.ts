import { once } from 'node:events';
import type { Writable } from 'node:stream';
import { type ColourDescription, narrow, type Picture, type StreamInfo, toRgbPlanes, withFinerChroma } from '../core';
import { writtenLayout, type PixelLayout } from './pixelFormats';
import { BIT_EXACT, fileArgument, Interrupted, lastComplaint, MediaError, SAFE_PROTOCOLS, startTool } from './tools';

/** Depth a stream is written at: the source's, and finer where treatments made finer samples. */
export function writtenDepth(info: StreamInfo): 8 | 10 | 12 | 16 {
  return info.depth <= 8 ? 8 : info.depth <= 10 ? 10 : info.depth <= 12 ? 12 : 16;
}

/** Format a stream's pictures are handed to the encoder in. */
const layoutOf = (info: StreamInfo): PixelLayout => writtenLayout(info, writtenDepth(info));

/** One picture as raw bytes of the written format. */
export function packFrame(picture: Picture): Buffer {
  const { info } = picture;
  const { depth, rgb, chromaShiftX, chromaShiftY } = layoutOf(info);
  const planes = rgb ? gbr(picture) : withFinerChroma(picture, chromaShiftX, chromaShiftY).planes.map((p) => p.data);
  const total = planes.reduce((sum, data) => sum + data.length, 0);
  const out = depth === 8 ? new Uint8Array(total) : new Uint16Array(total);
  let at = 0;
  for (const data of planes) {
    narrow(data, depth, info.colour.range === 'full', out, at);
    at += data.length;
  }
  return Buffer.from(out.buffer, out.byteOffset, out.byteLength);
}

/** In the order of ffmpeg's planar formats. */
function gbr(picture: Picture): Uint16Array[] {
  const { red, green, blue } = toRgbPlanes(picture);
  return [green, blue, red];
}

const TRANSFER_TAG = { video: 'bt709', srgb: 'iec61966-2-1' } as const;
const MATRIX_TAG = { bt601: 'smpte170m', bt709: 'bt709', bt2020: 'bt2020nc' } as const;

/** Tags that say how the codes are meant; `rgb` of codes that are red, green and blue. */
function colourTags({ matrix, range, transfer, primaries }: ColourDescription, rgb = false): string[] {
  const pal = matrix === 'bt601' && primaries === 'bt470bg';
  return [
    '-color_primaries',
    primaries,
    '-color_trc',
    matrix === 'bt601' && transfer === 'video' ? 'smpte170m' : TRANSFER_TAG[transfer],
    '-colorspace',
    rgb ? 'rgb' : pal ? 'bt470bg' : MATRIX_TAG[matrix],
    '-color_range',
    range === 'limited' ? 'tv' : 'pc',
  ];
}

/** Arguments that read raw frames of this stream from standard input. */
function rawInput(info: StreamInfo): string[] {
  return [
    '-f',
    'rawvideo',
    '-pix_fmt',
    layoutOf(info).name,
    '-s',
    `${info.width}x${info.height}`,
    '-r',
    `${info.rate.num}/${info.rate.den}`,
    '-i',
    'pipe:0',
  ];
}

/** Filters and flags that carry pixel aspect and fields into the output. */
function shape(info: StreamInfo): { filter: string; flags: string[] } {
  const { num, den } = info.pixelAspect;
  const fields = info.fieldOrder === 'progressive' ? 'setfield=prog' : `setfield=${info.fieldOrder === 'top-first' ? 'tff' : 'bff'}`;
  return {
    filter: `setsar=${num}/${den},${fields}`,
    flags: info.fieldOrder === 'progressive' ? [] : ['-flags:v', '+ilme+ildct', '-top', info.fieldOrder === 'top-first' ? '1' : '0'],
  };
}

/** Lossless: FFV1 version 3, every frame by itself, sixteen slices with checksums each, or as many as a size that cuts chroma samples allows. */
export function masterCodec(info: StreamInfo): string[] {
  const { filter, flags } = shape(info);
  const { chromaShiftX, chromaShiftY } = layoutOf(info);
  const wholeChroma = info.width % (1 << chromaShiftX) === 0 && info.height % (1 << chromaShiftY) === 0;
  return [
    '-vf',
    filter,
    '-c:v',
    'ffv1',
    '-level',
    '3',
    '-coder',
    '1',
    '-context',
    '0',
    '-g',
    '1',
    ...(wholeChroma ? ['-slices', '16'] : []),
    '-slicecrc',
    '1',
    '-threads',
    '1',
    ...flags,
    ...colourTags(info.colour, info.rgb),
  ];
}

/** Plays everywhere: H.264, 8 bit, 4:2:0, no reordering so that pieces join exactly. */
export function accessCodec(info: StreamInfo): string[] {
  const { filter, flags } = shape(info);
  const even = info.width % 2 || info.height % 2 ? `,crop=${info.width & ~1}:${info.height & ~1}` : '';
  // Players expect luma and colour differences in limited range.
  const colour: ColourDescription = info.rgb ? { ...info.colour, range: 'limited' } : info.colour;
  const converted = info.rgb ? `,scale=out_color_matrix=${colour.matrix}:out_range=tv:flags=accurate_rnd+full_chroma_int` : '';
  return [
    '-vf',
    `${filter}${even}${converted}`,
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-crf',
    '16',
    '-bf',
    '0',
    '-pix_fmt',
    'yuv420p',
    '-g',
    String(Math.max(12, Math.round((info.rate.num / info.rate.den) * 2))),
    '-threads',
    '1',
    ...flags,
    ...colourTags(colour),
  ];
}

/** A file a running encoder writes. */
export interface EncoderOutput {
  path: string;
  /** Container by ffmpeg's name. */
  format: string;
  codec: string[];
}

/** Takes pictures one after the other and writes them to one or more files. */
export class VideoEncoder {
  private readonly child;
  private readonly closed: Promise<number | null>;
  private stderr = '';

  constructor(info: StreamInfo, outputs: EncoderOutput[]) {
    const files = outputs.flatMap((o) => ['-map', '0:v', ...o.codec, ...BIT_EXACT, '-f', o.format, '-n', fileArgument(o.path)]);
    this.child = startTool('ffmpeg', ['-hide_banner', '-nostats', '-v', 'error', ...SAFE_PROTOCOLS, ...rawInput(info), ...files]);
    this.child.stdout?.resume();
    this.child.stderr?.on('data', (chunk: Buffer) => (this.stderr = (this.stderr + chunk.toString()).slice(-8000)));
    this.closed = new Promise((resolve) => {
      this.child.on('close', resolve);
      this.child.on('error', (error) => {
        this.stderr += error.message;
        resolve(null);
      });
    });
  }

  /** Returns when the encoder is no more than a frame behind. @throws MediaError when it has stopped. */
  async write(picture: Picture): Promise<void> {
    const pipe = this.child.stdin as Writable;
    if (this.child.exitCode !== null || pipe.destroyed) throw this.failure();
    const frame = packFrame(picture);
    if (pipe.write(frame) || pipe.writableLength <= frame.length) return;
    await Promise.race([once(pipe, 'drain'), this.closed]).catch(async () => {
      await this.closed;
      throw this.failure();
    });
  }

  /** Ends the files. @throws MediaError when the encoder did not finish well. */
  async finish(): Promise<void> {
    this.child.stdin?.end();
    if ((await this.closed) !== 0) throw this.failure();
  }

  async abort(): Promise<void> {
    this.child.kill('SIGKILL');
    await this.closed;
  }

  private failure(): Error {
    const { signalCode } = this.child;
    if (signalCode) return new Interrupted(`the encoder was stopped (${signalCode})`);
    return new MediaError(`The encoder stopped: ${lastComplaint(this.stderr)}.`);
  }
}
