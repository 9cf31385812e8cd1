import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { bytesOf, type Raster } from './raster';

/** Runs ffmpeg and waits. */
export function ffmpeg(...args: string[]): void {
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { stdio: ['ignore', 'inherit', 'inherit'] });
}

/** Pictures through ffmpeg into a file, one after the other. */
export async function encodeFrames(
  frames: Iterable<Raster>,
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
  for (const frame of frames) if (!child.stdin.write(bytesOf(frame))) await once(child.stdin, 'drain');
  child.stdin.end();
  const [code] = (await ended) as [number];
  if (code !== 0) throw new Error(`ffmpeg ended with ${code}`);
}
