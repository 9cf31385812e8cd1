'use client';

import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import type { FacesAnswer } from '../../../archive';
import { FACE_PARTS, type FacePart } from '../../../shared/faceParts';
import { MARK_LIMITS, type StrokeMark } from '../../../shared/marks';
import type { PlanStep } from '../../../shared/plan';
import { api } from '../../parts/api';
import { changeStrokes } from '../hand/strokes';
import { useBench, useBenchStore } from '../state/store';
import { settingColour } from './hintColour';
import { placeWords } from './placeWords';

/** Milliseconds between two looks at how far the faces are found. */
const AGAIN_MS = 800;

/** Share of a mark's radius in which it fades out: a cheek's colour has no border. */
const SOFT: Record<FacePart, number> = { skin: 0, cheeks: 1, lips: 0.5, eyes: 0.3, hair: 0 };

/** Parts of the faces that are found, tinted in two steps: which part, and which colour. What is made are marks like all others. */
export function FaceTints({ step }: { step: PlanStep }) {
  const bench = useBenchStore();
  const id = useId();
  const item = useBench((s) => s.item.id);
  const [part, setPart] = useState<FacePart>();
  const [of, setOf] = useState('all');
  const { data, error } = useQuery({
    queryKey: ['faces', item],
    queryFn: () => api<FacesAnswer>(`items/${item}/faces`),
    enabled: part !== undefined,
    refetchInterval: ({ state }) => ((state.data?.share ?? 0) < 1 && !state.data?.problem ? AGAIN_MS : false),
  });
  const faces = (data?.faces ?? []).flatMap((face, n) => (face.parts ? [{ ...face, parts: face.parts, number: n + 1 }] : []));
  const words = FACE_PARTS.find((p) => p.part === part);
  const looking = !error && !data?.problem && (data?.share ?? 0) < 1;
  const tint = (name: string, value: string): void => {
    if (!words) return;
    const chosen = faces.filter(({ number }) => of === 'all' || of === String(number));
    const set = chosen.flatMap(({ parts }) =>
      parts[words.part].map(({ points, size }): StrokeMark => ({
        ...{
          id: crypto.randomUUID(),
          use: words.spreads ? 'colour' : 'tint',
          on: true,
          softness: SOFT[words.part],
          points,
          colour: settingColour(value),
        },
        size: Math.min(MARK_LIMITS.size.max, Math.max(MARK_LIMITS.size.min, size)),
      })),
    );
    void changeStrokes(bench, step.id, { set }, `${words.name} ${name}, ${chosen.length === 1 ? '1 face' : `${chosen.length} faces`}`);
  };
  return (
    <div className="mt-1 grid grid-cols-[66px_1fr] items-center gap-x-2 gap-y-[3px]" role="group" aria-label="Parts of faces">
      <span className="col-span-2 text-ink2">In faces that are found</span>
      <div className="seg col-span-2 justify-self-start" role="group" aria-label="Which part">
        {FACE_PARTS.map(({ part: one, name }) => (
          <button
            key={one}
            type="button"
            className="px-[7px]"
            aria-pressed={part === one}
            onClick={() => setPart(part === one ? undefined : one)}
          >
            {name}
          </button>
        ))}
      </div>
      {words && (looking || faces.length === 0) && (
        <span className="col-start-2 text-ink2" role="status">
          {error?.message ?? data?.problem ?? (looking ? 'faces are being looked for' : 'no faces found')}
        </span>
      )}
      {words && faces.length > 1 && (
        <>
          <label htmlFor={`${id}-of`} className="text-ink2">
            of
          </label>
          <select id={`${id}-of`} className="field min-w-0" value={of} onChange={(e) => setOf(e.target.value)}>
            <option value="all">all {faces.length} faces</option>
            {faces.map(({ number, x, y, width, height, pixels }) => (
              <option key={number} value={number}>
                {placeWords(x + width / 2, y + height / 2)}, {Math.round(pixels)} px
              </option>
            ))}
          </select>
        </>
      )}
      {words && faces.length > 0 && (
        <span className="col-start-2 flex flex-wrap gap-[3px]" role="group" aria-label={`Colours of ${words.name}`}>
          {Object.entries(words.colours).map(([name, value]) => (
            <button
              key={name}
              type="button"
              className="h-[24px] w-[24px] border border-[var(--rule-2)]"
              style={{ background: value }}
              title={name}
              aria-label={`${words.name}: ${name}`}
              onClick={() => tint(name, value)}
            />
          ))}
        </span>
      )}
    </div>
  );
}
