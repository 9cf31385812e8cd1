import { reduceRational, type Rational } from './rational';

/** Frames in a row whose times in the source lie evenly. */
export interface TimePiece {
  /** First frame of the output, and how many there are. */
  first: number;
  count: number;
  /** Time of the first, and from each to the next, in frames of the source. */
  start: Rational;
  step: Rational;
}

/**
 * When each frame of an output was seen in the source: piecewise linear, in exact rationals. A time of 7/2 is half a frame after frame 7
 * began, such as its second field. The pieces follow one another without a gap, from frame 0.
 */
export type TimeMap = readonly TimePiece[];

export const rational = (num: number, den = 1): Rational => reduceRational(den < 0 ? { num: -num, den: -den } : { num, den });

const plus = (a: Rational, b: Rational): Rational => rational(a.num * b.den + b.num * a.den, a.den * b.den);
const times = (a: Rational, b: Rational): Rational => rational(a.num * b.num, a.den * b.den);
const floor = ({ num, den }: Rational): number => Math.floor(num / den);
const ceil = ({ num, den }: Rational): number => Math.ceil(num / den);
const compare = (a: Rational, b: Rational): number => a.num * b.den - b.num * a.den;

/** Every frame at its own time. */
export const sameTime = (frames: number): TimeMap => [{ first: 0, count: frames, start: rational(0), step: rational(1) }];

/** Frames in a row from `start` on, `step` apart. */
export const evenTime = (frames: number, start: Rational, step: Rational): TimeMap => [{ first: 0, count: frames, start, step }];

export const framesOf = (map: TimeMap): number => map.reduce((sum, { count }) => sum + count, 0);

/** Time in the source of frame `n` of the output; between two frames, `n` may be a fraction. @throws RangeError outside of the map. */
export function timeAt(map: TimeMap, n: Rational): Rational {
  const piece = map.find(({ first, count }) => compare(n, rational(first)) >= 0 && compare(n, rational(first + count)) < 0);
  if (!piece) throw new RangeError(`frame ${n.num / n.den} of ${framesOf(map)}`);
  return plus(piece.start, times(piece.step, plus(n, rational(-piece.first))));
}

/** Frame of the source that is seen in frame `n` of the output. */
export const sourceFrame = (map: TimeMap, n: number): number => floor(timeAt(map, rational(n)));

/** Two maps as one: from an output to what it was made of, and from there to the source. @throws RangeError where the first leaves the second. */
export function composeTime(outer: TimeMap, inner: TimeMap): TimeMap {
  const made: TimePiece[] = [];
  for (const piece of outer) {
    for (let n = 0; n < piece.count;) {
      const at = plus(piece.start, times(piece.step, rational(n)));
      const below = inner.find(({ first, count }) => compare(at, rational(first)) >= 0 && compare(at, rational(first + count)) < 0);
      if (!below) throw new RangeError(`time ${at.num / at.den} of ${framesOf(inner)} frames`);
      const count = Math.min(piece.count - n, framesWithin(at, piece.step, below));
      const start = plus(below.start, times(below.step, plus(at, rational(-below.first))));
      made.push({ first: piece.first + n, count, start, step: times(piece.step, below.step) });
      n += count;
    }
  }
  return merged(made);
}

/** How many frames from time `at` on lie within a piece. */
function framesWithin(at: Rational, step: Rational, { first, count }: TimePiece): number {
  if (step.num === 0) return Infinity;
  const end = step.num > 0 ? first + count : first;
  const gone = times(plus(rational(end), rational(-at.num, at.den)), rational(step.den, step.num));
  // Forwards the end itself is outside, backwards it still belongs to the piece.
  return step.num > 0 ? ceil(gone) : floor(gone) + 1;
}

/** Pieces that go on evenly are one. */
function merged(pieces: TimePiece[]): TimeMap {
  const out: TimePiece[] = [];
  for (const piece of pieces) {
    const last = out.at(-1);
    const goesOn =
      last && compare(last.step, piece.step) === 0 && compare(plus(last.start, times(last.step, rational(last.count))), piece.start) === 0;
    if (goesOn) last.count += piece.count;
    else out.push({ ...piece });
  }
  return out;
}

/** A stretch of the source's time, in its frames: from `start` until just before `end`. */
export interface Stretch {
  start: Rational;
  end: Rational;
}

/**
 * What an output keeps of its source's time, in the order it is seen; each frame lasts for one step. Stretches that follow one another are
 * one.
 */
export function keptStretches(map: TimeMap): Stretch[] {
  const out: Stretch[] = [];
  for (const { start, step, count } of map) {
    const end = plus(start, times(step, rational(count)));
    const last = out.at(-1);
    if (last && compare(last.end, start) === 0) last.end = end;
    else out.push({ start, end });
  }
  return out;
}

/** The times in the output, in its frames, at which a time of the source is seen; none where it was cut out. */
export function timesOf(map: TimeMap, source: Rational): Rational[] {
  return map.flatMap(({ first, count, start, step }) => {
    if (step.num === 0) return compare(start, source) === 0 ? [rational(first)] : [];
    const n = times(plus(source, rational(-start.num, start.den)), rational(step.den, step.num));
    return n.num >= 0 && compare(n, rational(count)) < 0 ? [plus(n, rational(first))] : [];
  });
}

/** The first and last frame of an output that show frames `first` to `last` of the source; undefined where none does. */
export function framesShowing(map: TimeMap, first: number, last: number): { first: number; last: number } | undefined {
  const shown = map.flatMap((piece) => {
    const { start, step, count } = piece;
    if (step.num === 0) return floor(start) >= first && floor(start) <= last ? [piece.first, piece.first + count - 1] : [];
    /** Frame of the piece, or between two, at a time of the source. */
    const at = (time: number): Rational => times(plus(rational(time), rational(-start.num, start.den)), rational(step.den, step.num));
    // The last frame lasts until the next one begins.
    const [from, to] = step.num > 0 ? [ceil(at(first)), ceil(at(last + 1)) - 1] : [floor(at(last + 1)) + 1, floor(at(first))];
    const [a, b] = [Math.max(0, from), Math.min(count - 1, to)];
    return a <= b ? [piece.first + a, piece.first + b] : [];
  });
  return shown.length ? { first: Math.min(...shown), last: Math.max(...shown) } : undefined;
}
