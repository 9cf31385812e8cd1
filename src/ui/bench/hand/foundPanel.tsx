'use client';

import type { PlanStep } from '../../../shared/plan';
import { useBench, useBenchStore } from '../state/store';

/** What a step found: shown over the picture, and counted. */
export function FoundPanel({ step }: { step: PlanStep }) {
  const bench = useBenchStore();
  const finding = useBench((s) => s.finding);
  const faults = useBench((s) => s.faults);
  const there = faults?.counts.filter(({ count }) => count > 0) ?? [];
  return (
    <div className="mb-1.5 border-b pb-1.5">
      <div className="flex items-center gap-x-2">
        <span className="w-[66px] shrink-0 text-ink2">Found</span>
        <button
          type="button"
          className="btn"
          aria-pressed={finding}
          disabled={!step.on}
          title="Tints what was found in the picture, and counts it"
          onClick={() => bench.setState({ finding: !finding })}
        >
          {finding ? 'shown' : 'show'}
        </button>
      </div>
      {finding && faults && (
        <dl className="mt-1 grid grid-cols-[1fr_auto] gap-x-2 pl-[74px] text-ink2 tabular-nums" aria-label="Found in view">
          <dt>{faults.share === 0 ? 'nothing in view' : 'of the view'}</dt>
          <dd className="text-right">{(100 * faults.share).toFixed(faults.share < 0.001 ? 3 : 2)} %</dd>
          {there.map(({ name, count }) => (
            <div key={name} className="contents">
              <dt>{name}</dt>
              <dd className="text-right">{count.toLocaleString('en-GB')}</dd>
            </div>
          ))}
        </dl>
      )}
    </div>
  );
}
