import { open } from 'node:fs/promises';
import { UNTRUSTED_INPUT } from './inputs';
import { fileArgument, runTool } from './tools';

/**
 * Steps of the codecs' quantisers in codes of 255 on orthonormal coefficients, as treatments mean them, from the numbers that
 * ffmpeg's decoders tell of each macroblock: MPEG-2's doubled scale times its matrix's mean, MPEG-4's scale, and of H.264 (whose
 * step doubles every six) two fifths, for it smooths its own blocks and leaves that much less behind.
 */
const STEP: Record<string, (q: number) => number> = {
  mpeg2video: (q) => 1.1 * q,
  mpeg4: (q) => 2 * q,
  h264: (q) => 0.25 * 2 ** (q / 6),
};

/**
 * The middle of the quantiser steps that a few frames were coded with.
 * @param from seconds into the file where they are looked for.
 * @returns undefined for codecs whose decoder does not tell.
 */
export async function codedStep(path: string, codec: string, from: number, stream = 0): Promise<number | undefined> {
  const step = STEP[codec];
  if (!step) return undefined;
  const { stderr } = await runTool('ffmpeg', [
    ...['-hide_banner', '-nostats', '-debug', 'qp', '-threads', '1', ...UNTRUSTED_INPUT],
    ...['-ss', from.toFixed(3), '-i', fileArgument(path), '-map', `0:V:${stream}`, '-frames:v', '6', '-an', '-f', 'null', '-'],
  ]);
  const told = numbersTold(stderr, codec);
  return told.length ? step(told[told.length >> 1]) : undefined;
}

/** The numbers, two characters each, of all macroblocks in a decoder's report, in order of size. */
export function numbersTold(report: string, codec: string): number[] {
  const rows = report.matchAll(new RegExp(`^\\[${codec} @ [^\\]]*\\] ((?:[ \\d]\\d)+)$`, 'gm'));
  return [...rows].flatMap(([, row]) => row.match(/../g)?.map(Number) ?? []).sort((a, b) => a - b);
}

/** Where the low frequencies of a JPEG's table stand in its zigzag order (ITU-T T.81, figure A.6): blocks and ringing come from them. */
const LOW = [1, 2, 3, 4, 5, 7, 8];
/** Bytes of a JPEG's head that are searched; profiles and previews may come before its tables. */
const HEAD = 1 << 20;

/** The step of a JPEG's luma quantiser at low frequencies; undefined where its head holds no table. */
export async function jpegStep(path: string): Promise<number | undefined> {
  const file = await open(path, 'r');
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0);
    return lumaStep(buffer.subarray(0, bytesRead));
  } finally {
    await file.close();
  }
}

/** The mean of table 0's low frequencies, from the marker segments before the first scan. */
export function lumaStep(head: Buffer): number | undefined {
  for (let at = 2; at + 4 <= head.length && head[at] === 0xff;) {
    const marker = head[at + 1],
      end = at + 2 + head.readUInt16BE(at + 2);
    if (marker === 0xda) return undefined;
    if (marker === 0xdb) {
      for (let table = at + 4; table + 65 <= Math.min(end, head.length);) {
        const wide = head[table] >> 4 ? 2 : 1;
        if ((head[table] & 15) === 0 && table + 1 + 64 * wide <= head.length) {
          const entries = LOW.map((n) => head.readUIntBE(table + 1 + wide * n, wide));
          return entries.reduce((a, b) => a + b, 0) / LOW.length;
        }
        table += 1 + 64 * wide;
      }
    }
    at = end;
  }
  return undefined;
}
