'use client';

import type { SettingSpec } from '../../../core';
import type { Mask } from '../../../shared/masks/mask';
import { NumberField } from '../ladder/numberField';
import { useBench, useBenchStore, type Brush } from '../state/store';

const spec = (key: keyof Brush, label: string, min: number, step: number, help: string): SettingSpec => ({
  ...{ key, label, min, step, help },
  kind: 'number',
  unit: '%',
  max: 100,
  default: 50,
});

/** What the brush is told; `scale` makes a share of what is shown in percent. */
const FIELDS: { key: 'size' | 'softness' | 'flow'; scale: number; spec: SettingSpec }[] = [
  { key: 'size', scale: 100, spec: spec('size', 'Brush', 0.1, 0.5, "Diameter, of the picture's height. The keys + and - change it.") },
  { key: 'softness', scale: 1, spec: spec('softness', 'Softness', 0, 5, 'Share of the brush in which it fades out.') },
  { key: 'flow', scale: 1, spec: spec('flow', 'Flow', 1, 5, 'How much each touch covers; a pen lays less where it presses less.') },
];

/** The brush, while a part of this mask is painted. */
export function BrushPanel({ owner, mask }: { owner: string; mask: Mask }) {
  const bench = useBenchStore();
  const brush = useBench((s) => s.brush);
  if (brush?.owner !== owner || mask.parts.at(brush.part)?.shape.kind !== 'painted') return null;
  const change = (part: Partial<Brush>): void => bench.setState({ brush: { ...brush, ...part } });
  return (
    <div className="mt-1 border border-rule2 px-2 py-1" role="group" aria-label="Brush">
      <div className="seg mb-1">
        {(['add', 'erase'] as const).map((mode) => (
          <button key={mode} type="button" aria-pressed={brush.mode === mode} onClick={() => change({ mode })}>
            {mode === 'add' ? 'paint' : 'erase'}
          </button>
        ))}
      </div>
      <div className="grid grid-cols-[1fr_76px] items-center gap-x-2 gap-y-[3px]">
        {FIELDS.map(({ key, scale, spec: field }) => (
          <div key={key} className="contents">
            <label htmlFor={`${owner}-${key}`} title={field.help}>
              {field.label}
            </label>
            <NumberField
              spec={field}
              id={`${owner}-${key}`}
              value={Number((brush[key] * scale).toFixed(2))}
              description={undefined}
              onCommit={(v) => change({ [key]: v / scale })}
            />
          </div>
        ))}
      </div>
    </div>
  );
}
