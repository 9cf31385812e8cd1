import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { wholeRegion } from '../core';
import { openSource, type OpenSource } from './openSource';
import { probe } from './probe';
import * as tools from './tools';

let folder = '';
beforeAll(() => (folder = mkdtempSync(path.join(tmpdir(), 'wairetic-decoder-'))));
afterAll(() => rmSync(folder, { recursive: true }));
afterEach(() => vi.restoreAllMocks());

/** Three seconds in which every frame differs. */
const CLIP = ['-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=25:duration=3'];
const FORMATS: [string, string[]][] = [
  ['interlaced MPEG-2 with fields.mpg', ['-c:v', 'mpeg2video', '-flags', '+ildct+ilme', '-g', '12', '-bf', '2', '-q:v', '3']],
  ["B frames, don't lose one.mp4", ['-c:v', 'libx264', '-g', '20', '-bf', '3', '-pix_fmt', 'yuv420p']],
  ['later than zero.ts', ['-c:v', 'libx264', '-g', '20', '-bf', '2', '-pix_fmt', 'yuv420p', '-output_ts_offset', '100']],
  ['lossless.mkv', ['-c:v', 'ffv1', '-level', '3']],
  ['own time stamps.avi', ['-c:v', 'mpeg4', '-q:v', '3']],
  ['with ten bits.mov', ['-c:v', 'prores_ks', '-pix_fmt', 'yuv422p10le']],
];
const JUMPS = [0, 60, 11, 12, 37, 74, 5, 49];

const frames = async (source: OpenSource, numbers: number[]): Promise<Uint16Array[]> => {
  const out: Uint16Array[] = [];
  for (const n of numbers) out.push((await source.frame(n, wholeRegion(source.info))).planes[0].data);
  return out;
};

describe('a decoder that waits for a jump', () => {
  it.each(FORMATS)('gives the frames that one started anew gives: %s', async (name, codec) => {
    const file = path.join(folder, name);
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...CLIP, ...codec, file]);
    const probed = await probe(file);
    const one = await openSource(file, name, probed);
    const anew: Uint16Array[] = [];
    for (const n of JUMPS) {
      anew.push(...(await frames(one, [n])));
      one.close?.();
    }
    const start = vi.spyOn(tools, 'startTool');
    const jumping = await openSource(file, name, probed, undefined, true);
    try {
      expect(await frames(jumping, JUMPS)).toEqual(anew);
    } finally {
      jumping.close?.();
    }
    // The first decoder is started for its frame, all others have waited; streams without an index of their own may begin too late once.
    const cold = start.mock.calls.filter(([, args]) => !args.includes('concat'));
    expect(cold.length).toBeLessThanOrEqual(/mpg|ts$/.test(name) ? 2 : 1);
  });

  it('is left alone where its file is gone, and says what is wrong', async () => {
    const file = path.join(folder, 'goes away.mkv');
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...CLIP, '-c:v', 'mpeg2video', '-g', '12', file]);
    const jumping = await openSource(file, 'goes', await probe(file), undefined, true);
    try {
      await jumping.frame(0, wholeRegion(jumping.info));
      rmSync(file);
      await expect(jumping.frame(70, wholeRegion(jumping.info))).rejects.toThrow('Frame 70 cannot be decoded');
    } finally {
      jumping.close?.();
    }
  });
});
