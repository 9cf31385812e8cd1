'use client';

import { useState } from 'react';
import type { TraceId } from '../../../core';
import { timecode } from '../../parts/format';
import { goTo } from '../state/keys';
import { useBench, useBenchStore } from '../state/store';
import { useTraces } from './traces';

/** Where a trace stands highest, to go to. */
export function WorstPlaces() {
  const bench = useBenchStore();
  const output = useBench((s) => s.output);
  const traces = useTraces();
  const [by, setBy] = useState<TraceId>();
  if (!traces) return null;
  const { kinds } = traces;
  const kind = kinds.find((k) => k.id === by) ?? kinds[0];
  if (!kind) return null;
  const inside = traces.worst[kind.id].filter((p) => p.frame >= 0 && p.frame < output.frames);
  return (
    <section aria-label="Worst places" className="flex h-full flex-col px-[14px] py-1.5">
      <div className="flex items-center justify-between">
        <h2 className="font-sans text-[13px]">Worst places</h2>
        <label className="flex items-center gap-1 text-ink2">
          by
          <select
            className="h-[24px] cursor-pointer bg-transparent text-ink2"
            value={kind.id}
            onChange={(e) => setBy(e.target.value as TraceId)}
          >
            {kinds.map((k) => (
              <option key={k.id} value={k.id}>
                {k.name}
              </option>
            ))}
          </select>
        </label>
      </div>
      <ol className="min-h-0 flex-1 overflow-y-auto" tabIndex={0} aria-label={`By ${kind.name}`}>
        {inside.map(({ frame, value }) => (
          <li key={frame}>
            <button
              type="button"
              className="flex min-h-[24px] w-full cursor-pointer items-center justify-between tabular-nums hover:underline"
              onClick={() => goTo(bench, frame)}
            >
              <span className="text-ink2">{timecode(frame, output.rate)}</span>
              <span className="font-semibold">
                {value.toFixed(kind.id === 'softness' || kind.id === 'blocks' ? 2 : 1)}
                {kind.unit && ` ${kind.unit}`}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
