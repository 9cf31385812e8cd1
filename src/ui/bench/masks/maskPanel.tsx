'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { SettingSpec } from '../../../core';
import type { Combine, Mask, MaskPart, ShapeKind } from '../../../shared/masks/mask';
import { api } from '../../parts/api';
import { arrows } from '../picture/arrows';
import { loupeInSource } from '../picture/geometry';
import { changeMask, maskOf } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';
import { NumberField } from '../ladder/numberField';
import { BrushPanel } from './brushPanel';
import { freshShape, moved, replaced, shapeText, stretched, withPart, without } from './parts';
import { TintPanel } from './tintPanel';
import type { PaintedAnswer } from '../../../archive';
import type { PaintRequest } from '../../../shared/requests';

const percent = (key: string, label: string, most: number, step: number, standard: number, help: string): SettingSpec => ({
  ...{ key, label, step, help },
  kind: 'number',
  unit: '%',
  min: 0,
  max: most,
  default: standard,
});

const FEATHER = percent(
  'feather',
  'Soft edge',
  50,
  0.5,
  2,
  "Width of the transition at the edges, of the picture's height; gradients have their own.",
);
const OPACITY = percent('opacity', 'Opacity', 100, 1, 100, 'How far it works where it works.');

const SHAPES: { kind: ShapeKind; label: string; help: string }[] = [
  { kind: 'oval', label: 'oval', help: 'Adds an oval at the loupe' },
  { kind: 'box', label: 'box', help: 'Adds a box at the loupe' },
  {
    kind: 'polygon',
    label: 'polygon',
    help: 'Adds a polygon at the loupe: drag its corners, press a side for one more, double-click one to remove it',
  },
  { kind: 'straight', label: 'straight gradient', help: 'Adds a gradient from full to nothing along a line' },
  { kind: 'radial', label: 'round gradient', help: 'Adds a gradient from full in the middle to nothing at its edge' },
  { kind: 'painted', label: 'paint…', help: 'Paints on the picture with a brush' },
];

const COMBINE: { value: Combine; label: string }[] = [
  { value: 'add', label: 'and' },
  { value: 'subtract', label: 'without' },
  { value: 'intersect', label: 'only in' },
];

/** Where a step or a branch works: everywhere, in shapes drawn or painted on the picture, or outside of them. */
export function MaskPanel({ owner, mask }: { owner: string; mask: Mask | undefined }) {
  const bench = useBenchStore();
  const [combine, setCombine] = useState<Combine>('add');
  const add = async (kind: ShapeKind): Promise<void> => {
    try {
      const { u, v } = loupeInSource(bench.getState());
      const document = kind === 'painted' ? await emptyDocument(bench.getState().item.id) : '';
      const now = maskOf(bench.getState().plan, owner);
      const next = withPart(now, freshShape(kind, u, v, document), combine);
      changeMask(bench, owner, next, kind === 'painted' ? 'painted part added' : `${kind} added`);
      if (kind === 'painted')
        bench.setState({ brush: { size: 0.08, softness: 50, flow: 100, mode: 'add', owner, part: next.parts.length - 1 } });
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  return (
    <fieldset className="mt-2 min-w-0 border-t pt-1.5">
      <legend className="sr-only">Mask</legend>
      <div className="flex items-center gap-2 whitespace-nowrap">
        <span className="min-w-[66px]">Where</span>
        {mask ? (
          <select
            className="field min-w-0 flex-1"
            aria-label="Where it works"
            value={mask.inverse ? 'outside' : 'inside'}
            onChange={(e) =>
              e.target.value === 'everywhere'
                ? changeMask(bench, owner, undefined, 'everywhere')
                : changeMask(bench, owner, { ...mask, inverse: e.target.value === 'outside' }, `${e.target.value} the mask`)
            }
          >
            <option value="inside">inside the mask</option>
            <option value="outside">outside the mask</option>
            <option value="everywhere">everywhere</option>
          </select>
        ) : (
          <span className="flex-1 text-ink2">everywhere</span>
        )}
      </div>
      {mask && (
        <>
          <ol aria-label="Parts of the mask" className="mt-1">
            {mask.parts.map((part, index) => (
              <PartRow key={index} owner={owner} mask={mask} part={part} index={index} />
            ))}
          </ol>
          <BrushPanel owner={owner} mask={mask} />
          <div className="mt-1 grid grid-cols-[auto_1fr_auto_1fr] items-center gap-x-1.5 whitespace-nowrap">
            <label htmlFor={`${owner}-feather`} title={FEATHER.help}>
              {FEATHER.label}
            </label>
            <NumberField
              spec={FEATHER}
              id={`${owner}-feather`}
              value={Number((mask.feather * 100).toFixed(2))}
              description={undefined}
              onCommit={(v) => changeMask(bench, owner, { ...mask, feather: v / 100 }, `soft edge ${v} %`)}
            />
            <label htmlFor={`${owner}-mask-opacity`} title={OPACITY.help}>
              {OPACITY.label}
            </label>
            <NumberField
              spec={OPACITY}
              id={`${owner}-mask-opacity`}
              value={mask.opacity}
              description={undefined}
              onCommit={(v) => changeMask(bench, owner, { ...mask, opacity: v }, `mask at ${v} %`)}
            />
          </div>
          <TintPanel />
        </>
      )}
      <div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1 whitespace-nowrap">
        {mask ? (
          <select
            className="field w-[66px] px-0.5"
            aria-label="How the next part is added"
            value={combine}
            onChange={(e) => setCombine(e.target.value as Combine)}
          >
            {COMBINE.map((c) => (
              <option key={c.value} value={c.value}>
                {c.label}
              </option>
            ))}
          </select>
        ) : (
          <span className="min-w-[66px]">Only in</span>
        )}
        {SHAPES.map(({ kind, label, help }) => (
          <button key={kind} type="button" className="quiet min-h-[24px]" title={help} onClick={() => void add(kind)}>
            {label}
          </button>
        ))}
      </div>
    </fieldset>
  );
}

const emptyDocument = async (item: string): Promise<string> =>
  (await api<PaintedAnswer>(`items/${item}/painted`, { method: 'POST', json: { strokes: [] } satisfies PaintRequest })).document;

function PartRow({ owner, mask, part, index }: { owner: string; mask: Mask; part: MaskPart; index: number }) {
  const bench = useBenchStore();
  const painting = useBench((s) => s.brush?.owner === owner && s.brush.part === index);
  return (
    <li className="flex min-h-[28px] items-center gap-1">
      {index > 0 && (
        <select
          className="field h-[24px] w-[66px] shrink-0 px-0.5"
          aria-label={`What part ${index + 1} does to those before it`}
          value={part.combine}
          onChange={(e) =>
            changeMask(bench, owner, replaced(mask, index, { combine: e.target.value as Combine }), `part ${index + 1} ${e.target.value}`)
          }
        >
          {COMBINE.map((c) => (
            <option key={c.value} value={c.value}>
              {c.label}
            </option>
          ))}
        </select>
      )}
      <button
        type="button"
        className="min-w-0 flex-1 truncate text-left text-ink2 focus-visible:text-ink"
        title="Drag it on the picture; here, arrow keys move it, with Alt they change its size"
        onKeyDown={(event) => {
          const by = arrows(event, 0.01);
          if (!by) return;
          event.preventDefault();
          event.stopPropagation();
          const shape = event.altKey ? stretched(part.shape, by.dx, by.dy) : moved(part.shape, by.dx, by.dy);
          changeMask(bench, owner, replaced(mask, index, { shape }), event.altKey ? 'shape resized' : 'shape moved');
        }}
      >
        {index + 1}: {shapeText(part.shape)}
      </button>
      {part.shape.kind === 'painted' && (
        <button
          type="button"
          className="quiet"
          aria-pressed={painting}
          onClick={() =>
            bench.setState(({ brush }) => ({
              brush: painting ? undefined : { size: 0.08, softness: 50, flow: 100, mode: 'add', ...brush, owner, part: index },
            }))
          }
        >
          {painting ? 'done' : 'paint'}
        </button>
      )}
      <button
        type="button"
        className="grid h-6 w-6 shrink-0 place-items-center text-ink2 hover:text-ink"
        aria-label={`Remove part ${index + 1}`}
        onClick={() => {
          bench.setState({ brush: undefined });
          changeMask(bench, owner, without(mask, index), 'part removed');
        }}
      >
        <X size={13} aria-hidden />
      </button>
    </li>
  );
}
