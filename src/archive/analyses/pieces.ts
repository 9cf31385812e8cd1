import type { Piece } from './analysis';

/** First frame of a piece, and of the one after it. */
export function framesOf({ index, count }: Piece, frames: number): [number, number] {
  const from = (n: number): number => Math.round((n * frames) / count);
  return [from(index), from(index + 1)];
}
