'use client';

import { useEffect } from 'react';
import type { SettingSpec } from '../../../core';
import { mapSteps, stepsOn, type Plan, type PlanStep } from '../../../shared/plan';
import { shownValue } from '../../../shared/settings';
import { changeSetting } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';

/** The plan up to a step, which is what that step reads. */
export function planBefore(plan: Plan, id: string): Plan {
  const on = stepsOn(plan).map((step) => step.id);
  const after = new Set(on.slice(Math.max(0, on.indexOf(id))));
  return mapSteps(plan, (step) => (after.has(step.id) || step.id === id ? { ...step, on: false } : step));
}

/** Four corners: while they are dragged the picture is seen as the step reads it. */
export function CornersField({ spec, step, id, value }: { spec: SettingSpec; step: PlanStep; id: string; value: string }) {
  const bench = useBenchStore();
  const open = useBench((s) => s.cornering?.owner === step.id);
  // Once the rung is closed, the plan is seen whole again.
  useEffect(
    () => () => {
      if (bench.getState().cornering?.owner === step.id) bench.setState({ cornering: undefined, draft: undefined });
    },
    [bench, step.id],
  );
  return (
    <span className="col-span-2 flex items-center gap-2">
      <button
        id={id}
        type="button"
        className="btn"
        aria-pressed={open}
        title={spec.help}
        onClick={() =>
          open
            ? bench.setState({ cornering: undefined, draft: undefined })
            : bench.setState(({ plan }) => ({
                cornering: { owner: step.id, key: spec.key },
                draft: planBefore(plan, step.id),
                ...{ hand: undefined, brush: undefined, lining: undefined, picking: undefined },
              }))
        }
      >
        {open ? 'drag them' : 'set'}
      </button>
      <span className="text-ink2">{shownValue(spec, value)}</span>
      {value && !open && (
        <button type="button" className="quiet" onClick={() => changeSetting(bench, step.id, spec.key, '')}>
          Clear
        </button>
      )}
    </span>
  );
}
