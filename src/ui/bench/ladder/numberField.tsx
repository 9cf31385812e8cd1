'use client';

import { useState } from 'react';
import type { SettingSpec } from '../../../core';

/** A number that is taken over on Enter or when the field is left; what lies out of bounds is put to the bound. */
export function NumberField({
  spec,
  id,
  value,
  description,
  onCommit,
}: {
  spec: SettingSpec;
  id: string;
  value: number;
  description: string | undefined;
  onCommit: (v: number) => void;
}) {
  /** What is being typed; undefined while the field shows the setting. */
  const [text, setText] = useState<string>();
  const commit = (): void => {
    if (text === undefined) return;
    const typed = Number(text.replace(',', '.'));
    setText(undefined);
    if (text.trim() === '' || !Number.isFinite(typed)) return;
    const bounded = Math.min(spec.max as number, Math.max(spec.min as number, typed));
    onCommit(spec.whole ? Math.round(bounded) : bounded);
  };
  const nudge = (by: number): void =>
    onCommit(Math.min(spec.max as number, Math.max(spec.min as number, value + by * (spec.step as number))));
  return (
    <span className="field flex items-center justify-end gap-1 px-1.5">
      <input
        id={id}
        inputMode="decimal"
        aria-description={description}
        className="w-full min-w-0 bg-transparent text-right outline-none"
        value={text ?? String(value)}
        onChange={(e) => setText(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === 'Enter') commit();
          if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
            e.preventDefault();
            e.stopPropagation();
            nudge((e.key === 'ArrowUp' ? 1 : -1) * (e.shiftKey ? 10 : e.altKey && !spec.whole ? 0.1 : 1));
          }
        }}
      />
      {spec.unit && <span className="shrink-0 text-ink2">{spec.unit}</span>}
    </span>
  );
}
