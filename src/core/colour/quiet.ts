/**
 * How far a guess is taken back by its doubt, in codes, against where it is quiet: not at all where skin is told by a face, a little where things are
 * as sure as most are.
 */
const DOUBTS = [
  { doubt: 18, back: 0 },
  { doubt: 24, back: 0.25 },
  { doubt: 36, back: 0.25 },
  { doubt: 60, back: 1 },
];

/** From 0 to 1 without a corner, held beyond. */
export const smooth = (t: number): number => {
  const held = Math.min(1, Math.max(0, t));
  return held * held * (3 - 2 * held);
};

/** By `DOUBTS`, smoothly between them. */
export function takenBack(doubt: number): number {
  const next = DOUBTS.findIndex((step) => doubt < step.doubt);
  if (next === 0) return DOUBTS[0].back;
  if (next < 0) return DOUBTS[DOUBTS.length - 1].back;
  const [a, b] = [DOUBTS[next - 1], DOUBTS[next]];
  return a.back + (b.back - a.back) * smooth((doubt - a.doubt) / (b.doubt - a.doubt));
}
