import type { StreamInfo } from '../core';
import { pieceUnit } from '../media';

/** Frames a piece holds at least: long enough to be worth a decoder's start, short enough to lose little in a crash. */
const MIN_FRAMES = 96;
/** The same where so few pieces would come of it that threads stood idle at the end. */
const MIN_FRAMES_IF_SHORT = 24,
  FEW_PIECES = 8;

/** The pieces a render is split into; a still is one piece. */
export function splitFrames(output: StreamInfo): { first: number; count: number }[] {
  if (output.frames <= 1) return [{ first: 0, count: 1 }];
  const unit = pieceUnit(output);
  const least = output.frames < FEW_PIECES * MIN_FRAMES ? MIN_FRAMES_IF_SHORT : MIN_FRAMES;
  const length = unit * Math.ceil(least / unit);
  const pieces: { first: number; count: number }[] = [];
  for (let first = 0; first < output.frames; first += length) pieces.push({ first, count: Math.min(length, output.frames - first) });
  return pieces;
}
