import { Cancelled, type FrameMeasures, measureFrame, type Picture, tracedFrames, wholeRegion } from '../../core';
import type { Analysis } from './analysis';

/** What is measured of single frames, in their order. */
export interface MeasuredTraces {
  /** Frames that are measured when all is done. */
  total: number;
  measures: FrameMeasures[];
}

/** Frames measured of one item at most. */
const MAX_FRAMES = 3000;

/** How faults go along the running time. */
export const tracesAnalysis: Analysis<MeasuredTraces> = {
  id: 'traces',
  version: 1,
  name: 'traces',
  needs: ['frame-times'],
  async measure({ node }, kept, progress, cancelled) {
    const info = node.stream;
    const numbers = tracedFrames(info.frames, MAX_FRAMES);
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
      await progress({ total: numbers.length, measures }, measures.length / numbers.length);
    }
    return { total: numbers.length, measures };
  },
  encode: (value) => value,
  decode: (kept) => kept as MeasuredTraces,
};
