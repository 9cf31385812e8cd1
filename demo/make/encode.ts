import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { bytesOf, type Raster } from './raster';

/** Runs ffmpeg and waits. */
export function ffmpeg(...args: string[]): void {
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { stdio: ['ignore', 'inherit', 'inherit'] });
}

/** Pictures, or their bytes, through ffmpeg into a file, one after the other. */
export async function encodeFrames(
  frames: Iterable<Raster | Buffer>,
  size: { width: number; height: number },
  rate: string,
  inputs: string[],
  output: string[],
): Promise<void> {
  const child = spawn(
    'ffmpeg',
    [
      '-v',
      'error',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-s',
      `${size.width}x${size.height}`,
      '-r',
      rate,
      '-i',
      'pipe:0',
      ...inputs,
      ...output,
    ],
    { stdio: ['pipe', 'inherit', 'inherit'] },
  );
  const ended = once(child, 'exit');
  for (const frame of frames) if (!child.stdin.write(Buffer.isBuffer(frame) ? frame : bytesOf(frame))) await once(child.stdin, 'drain');
  child.stdin.end();
  const [code] = (await ended) as [number];
  if (code !== 0) throw new Error(`ffmpeg ended with ${code}`);
}

/** How interlaced SD is coded; values are ffmpeg's names. */
export interface Mpeg2Options {
  /** Bits a second, on average and at most. */
  rate: string;
  most: string;
  /** Frames from one key frame to the next. */
  keyEvery: number;
  pixelAspect: string;
  /** Matrix and primaries, and the transfer. */
  colour: string;
  transfer: string;
  /** Filters before all, such as a telecine. */
  filters?: string;
  bottomFirst?: boolean;
}

/** Output options of interlaced MPEG-2, the top field first where nothing else is said. */
export function interlacedMpeg2(options: Mpeg2Options): string[] {
  const { rate, most, keyEvery, pixelAspect, colour, transfer, filters, bottomFirst = false } = options;
  return [
    ...[
      '-c:v',
      'mpeg2video',
      '-flags',
      '+ildct+ilme',
      '-top',
      bottomFirst ? '0' : '1',
      '-b:v',
      rate,
      '-maxrate',
      most,
      '-bufsize',
      '1835k',
    ],
    ...[
      '-g',
      String(keyEvery),
      '-pix_fmt',
      'yuv420p',
      '-vf',
      `${filters ? `${filters},` : ''}scale=out_color_matrix=bt601:out_range=tv,setsar=${pixelAspect},setfield=${bottomFirst ? 'bff' : 'tff'}`,
    ],
    ...['-colorspace', colour, '-color_primaries', colour, '-color_trc', transfer],
  ];
}
