'use client';

import type { Span } from '../../../shared/plan';
import { framesShowing, sourceFrame } from '../../../shared/maps/time';
import { changeSpan } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';

/** When a step or a branch works: all the time, or in the range that was set on the ruler. */
export function SpanPanel({ owner, span }: { owner: string; span: Span | undefined }) {
  const bench = useBenchStore();
  const range = useBench((s) => s.range);
  const time = useBench((s) => s.description.time);
  const fromRange = range && { first: sourceFrame(time, range.first), last: sourceFrame(time, range.last) };
  const shown = span && framesShowing(time, span.first, span.last);
  const same = fromRange !== undefined && fromRange.first === span?.first && fromRange.last === span.last;
  return (
    <div className="mt-1.5 flex flex-wrap items-center gap-x-2 gap-y-1">
      <span className="text-ink2">When</span>
      <span className="tabular-nums">{span ? `source frames ${span.first} to ${span.last}` : 'all the time'}</span>
      {span && (
        <button type="button" className="quiet" onClick={() => changeSpan(bench, owner, undefined)}>
          all the time
        </button>
      )}
      {shown && (
        <button type="button" className="quiet" onClick={() => bench.setState({ range: shown })}>
          show it
        </button>
      )}
      {fromRange && !same && (
        <button type="button" className="quiet" onClick={() => changeSpan(bench, owner, fromRange)}>
          only in the range
        </button>
      )}
      {!range && !span && <span className="text-ink2">(set a range with I and O to hold it to one)</span>}
    </div>
  );
}
