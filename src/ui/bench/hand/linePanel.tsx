'use client';

import type { PlanStep } from '../../../shared/plan';
import { infoOf, useBench, useBenchStore } from '../state/store';

/** Lets a line be drawn over the picture, such as along the trace of a point of light. */
export function LinePanel({ step }: { step: PlanStep }) {
  const bench = useBenchStore();
  const { line, level } = useBench((s) => infoOf(s, step));
  const lining = useBench((s) => s.lining === step.id);
  if (!level && (!line || step.settings[line.when.key] !== line.when.is)) return null;
  return (
    <div className="mb-1.5 flex items-center gap-x-2 border-b pb-1.5">
      <span className="w-[66px] shrink-0 text-ink2">By hand</span>
      <button
        type="button"
        className="btn"
        aria-pressed={lining}
        title={
          level
            ? 'Drag along what should be level, or upright: the horizon, a table, the corner of a house'
            : 'Drag along the trace that a point of light or a sharp corner left: its length and direction are taken over'
        }
        onClick={() => bench.setState({ lining: lining ? undefined : step.id, hand: undefined, brush: undefined, picking: undefined })}
      >
        {level ? (lining ? 'drag along it' : 'draw what is level') : lining ? 'drag along a trace' : 'draw its trace'}
      </button>
    </div>
  );
}
