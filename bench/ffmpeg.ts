import { execFileSync, spawnSync } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Plane } from '../src/core/picture/picture';

/** Planes as 8-bit grey or 4:2:0 raw video; the clips' codes lie in the upper byte. */
export function rawBytes(frames: Plane[][]): Buffer {
  return Buffer.concat(frames.flatMap((planes) => planes.map((p) => Buffer.from(p.data.map((v) => v >> 8)))));
}

/** Runs ffmpeg over raw grey frames through a filter and reads the frames that come out. */
export function filterGrey(frames: Plane[], filter: string, output: { width: number; height: number }, work: string): Plane[] {
  const { width, height } = frames[0];
  const input = path.join(work, 'in.raw'),
    result = path.join(work, 'out.raw');
  writeFileSync(input, rawBytes(frames.map((f) => [f])));
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    ...rawInput('gray', width, height, input),
    '-vf',
    filter,
    '-f',
    'rawvideo',
    '-pix_fmt',
    'gray',
    result,
  ]);
  const bytes = readFileSync(result);
  rmSync(result);
  const size = output.width * output.height;
  return Array.from({ length: bytes.length / size }, (_, n) => ({
    ...output,
    data: Uint16Array.from(bytes.subarray(n * size, (n + 1) * size), (v) => v << 8),
  }));
}

export const rawInput = (format: string, width: number, height: number, file: string): string[] => [
  '-f',
  'rawvideo',
  '-pix_fmt',
  format,
  '-s',
  `${width}x${height}`,
  '-r',
  '30000/1001',
  '-i',
  file,
];

/** Seconds ffmpeg takes. */
export function timed(args: string[]): number {
  const start = performance.now();
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...args], { encoding: 'utf8' });
  if (status !== 0) throw new Error(`ffmpeg: ${stderr}`);
  return (performance.now() - start) / 1000;
}

/** Frames a second of a filter over a looped raw file, start-up taken out by two lengths. */
export function filterSpeed(
  format: string,
  width: number,
  height: number,
  file: string,
  frames: number,
  filter: string,
  loops: [number, number],
): number {
  const run = (n: number): number =>
    timed([
      '-filter_threads',
      '1',
      '-threads',
      '1',
      '-stream_loop',
      String(n),
      ...rawInput(format, width, height, file),
      '-vf',
      filter,
      '-threads',
      '1',
      '-f',
      'null',
      '-',
    ]);
  const [few, many] = loops;
  return ((many - few) * frames) / Math.max(0.001, run(many) - run(few));
}
