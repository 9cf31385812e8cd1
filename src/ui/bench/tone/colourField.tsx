'use client';

import { X } from 'lucide-react';
import type { SettingSpec } from '../../../core';
import type { PlanStep } from '../../../shared/plan';
import { colourParts } from '../../../shared/settings';
import { changeSetting } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';

/** A colour picked from the picture: what it was, and how another is taken. */
export function ColourField({ spec, step, id, value }: { spec: SettingSpec; step: PlanStep; id: string; value: string }) {
  const bench = useBenchStore();
  const picking = useBench((s) => s.picking?.owner === step.id && s.picking.key === spec.key);
  const parts = value ? colourParts(value).map((v) => Math.round(v / 257)) : undefined;
  return (
    <span className="col-span-2 flex items-center gap-2">
      <button
        id={id}
        type="button"
        className="btn"
        aria-pressed={picking}
        title={spec.help}
        onClick={() =>
          bench.setState({
            picking: picking ? undefined : { owner: step.id, key: spec.key },
            ...{ hand: undefined, brush: undefined, lining: undefined },
          })
        }
      >
        {picking ? 'click on it' : 'pick'}
      </button>
      {parts ? (
        <>
          <span className="h-[14px] w-[22px] border border-[var(--rule-2)]" style={{ background: `rgb(${parts.join(' ')})` }} aria-hidden />
          <span className="text-ink2 tabular-nums">{parts.join(' ')}</span>
          <button
            type="button"
            className="grid h-6 w-6 place-items-center text-ink2 hover:text-ink"
            aria-label={`Forget ${spec.label.toLowerCase()}`}
            onClick={() => changeSetting(bench, step.id, spec.key, '')}
          >
            <X size={13} aria-hidden />
          </button>
        </>
      ) : (
        <span className="text-ink2">none</span>
      )}
    </span>
  );
}
