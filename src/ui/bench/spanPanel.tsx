'use client';

import type { PlanStep, Span } from '../../core/plan/plan';
import type { PlanDescription } from '../parts/api';
import { changeSpan } from './planActions';
import { useBench, useBenchStore, type FrameRange } from './store';

/** The source's frame a frame of the output shows, or the other way round. */
export const sourceFrame = (n: number, { output, shows }: PlanDescription): number =>
  output.frames < 2 ? shows.first : Math.round(shows.first + (n * (shows.last - shows.first)) / (output.frames - 1));

/** The output's frames that show a stretch of the source. */
export function outputRange({ first, last }: Span, { output, shows }: PlanDescription): FrameRange {
  const scale = shows.last > shows.first ? (output.frames - 1) / (shows.last - shows.first) : 0;
  const at = (n: number): number => Math.max(0, Math.min(output.frames - 1, Math.round((n - shows.first) * scale)));
  return { first: at(first), last: at(last) };
}

/** When a step works: all the time, or in the range that was set on the ruler. */
export function SpanPanel({ step }: { step: PlanStep }) {
  const bench = useBenchStore();
  const range = useBench((s) => s.range);
  const description = useBench((s) => s.description);
  const { span } = step;
  const fromRange = range && { first: sourceFrame(range.first, description), last: sourceFrame(range.last, description) };
  const same = fromRange !== undefined && fromRange.first === span?.first && fromRange.last === span.last;
  return (
    <div className="mt-1.5 flex flex-wrap items-center gap-x-2 gap-y-1">
      <span className="text-ink2">When</span>
      <span className="tabular-nums">{span ? `source frames ${span.first} to ${span.last}` : 'all the time'}</span>
      {span && (
        <button type="button" className="quiet" onClick={() => changeSpan(bench, step.id, undefined)}>
          all the time
        </button>
      )}
      {span && (
        <button type="button" className="quiet" onClick={() => bench.setState({ range: outputRange(span, description) })}>
          show it
        </button>
      )}
      {fromRange && !same && (
        <button type="button" className="quiet" onClick={() => changeSpan(bench, step.id, fromRange)}>
          only in the range
        </button>
      )}
      {!range && !span && <span className="text-ink2">(set a range with I and O to hold it to one)</span>}
    </div>
  );
}
