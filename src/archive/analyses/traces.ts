import { Cancelled, type FrameMeasures, measureFrame, type Picture, tracedFrames, wholeRegion } from '../../core';
import type { Analysis, Piece } from './analysis';

/** What is measured of single frames, in their order. */
export interface MeasuredTraces {
  measures: FrameMeasures[];
}

/** Frames measured of one item at most. */
const MAX_FRAMES = 3000;
/** Frames measured in one piece: some seconds' work, beside which opening the file once more is little. */
const PIECE_FRAMES = 100;

/** The frames of a piece. */
function framesOf(numbers: number[], { index, count }: Piece): number[] {
  const from = (n: number): number => Math.round((n * numbers.length) / count);
  return numbers.slice(from(index), from(index + 1));
}

/** How faults go along the running time. */
export const tracesAnalysis: Analysis<MeasuredTraces> = {
  id: 'traces',
  version: 1,
  name: 'traces',
  needs: ['frame-times'],
  pieces: {
    count: ({ frames }) => Math.max(1, Math.ceil(tracedFrames(frames, MAX_FRAMES).length / PIECE_FRAMES)),
    join: (values) => ({ measures: values.flatMap((value) => value?.measures ?? []) }),
  },
  async measure({ node }, { kept, piece = { index: 0, count: 1 }, progress, cancelled }) {
    const info = node.stream;
    const numbers = framesOf(tracedFrames(info.frames, MAX_FRAMES), piece);
    const measures = (kept?.measures ?? []).filter((m, n) => m.frame === numbers[n]);
    const byLines = info.fieldOrder !== 'progressive';
    const whole = wholeRegion(info);
    let last: { frame: number; picture: Picture } | undefined;
    for (const n of numbers.slice(measures.length)) {
      if (cancelled()) throw new Cancelled();
      const before = n === 0 ? undefined : last?.frame === n - 1 ? last.picture : await node.frame(n - 1, whole);
      const picture = await node.frame(n, whole);
      measures.push(measureFrame(n, picture, before, byLines));
      last = { frame: n, picture };
      await progress({ measures }, measures.length / numbers.length);
    }
    return { measures };
  },
  encode: (value) => value,
  decode: (kept) => kept as MeasuredTraces,
};
