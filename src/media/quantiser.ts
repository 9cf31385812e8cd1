import { fileArgument, runTool, SAFE_PROTOCOLS } from './tools';

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
 * @returns nothing for codecs whose decoder does not tell.
 */
export async function codedStep(path: string, codec: string, from: number): Promise<number | undefined> {
  const step = STEP[codec];
  if (!step) return undefined;
  const { stderr } = await runTool('ffmpeg', [
    ...['-hide_banner', '-nostats', '-debug', 'qp', '-threads', '1', ...SAFE_PROTOCOLS],
    ...['-ss', from.toFixed(3), '-i', fileArgument(path), '-map', '0:v:0', '-frames:v', '6', '-an', '-f', 'null', '-'],
  ]);
  const told = numbersTold(stderr, codec);
  return told.length ? step(told[told.length >> 1]) : undefined;
}

/** The numbers, two characters each, of all macroblocks in a decoder's report, in order of size. */
export function numbersTold(report: string, codec: string): number[] {
  const rows = report.matchAll(new RegExp(`^\\[${codec} @ [^\\]]*\\] ((?:[ \\d]\\d)+)$`, 'gm'));
  return [...rows].flatMap(([, row]) => row.match(/../g)?.map(Number) ?? []).sort((a, b) => a - b);
}
