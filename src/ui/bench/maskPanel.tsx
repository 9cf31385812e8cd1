'use client';

import { X } from 'lucide-react';
import type { Mask, MaskArea } from '../../core/plan/mask';
import type { PlanStep } from '../../core/plan/plan';
import type { SettingSpec } from '../../core/treatments/setting';
import { areaText, freshArea, moved, replaced, stretched, withArea, without } from './areas';
import { arrows } from './arrows';
import { changeMask } from './planActions';
import { NumberField } from './settingsForm';
import { useBench, useBenchStore } from './store';

const SOFT: SettingSpec = {
  key: 'soft',
  kind: 'number',
  label: 'Soft edge',
  unit: '%',
  min: 0,
  max: 50,
  step: 0.5,
  default: 2,
  help: "Width of the transition at the areas' edges, of the picture's height.",
};

/** Where a step works: everywhere, in areas drawn on the picture, or outside them. */
export function MaskPanel({ step }: { step: PlanStep }) {
  const bench = useBenchStore();
  const place = useBench((s) => s.description.steps.find((d) => d.id === step.id)?.place);
  const loupe = useBench((s) => s.loupe);
  const mask = step.mask;
  const add = (shape: MaskArea['shape']): void => {
    const u = place ? (loupe.u - place.x) / place.width : 0.5,
      v = place ? (loupe.v - place.y) / place.height : 0.5;
    changeMask(bench, step.id, withArea(mask, freshArea(shape, u, v)), 'area added');
  };
  return (
    <fieldset className="mt-2 min-w-0 border-t pt-1.5">
      <legend className="sr-only">Mask</legend>
      <div className="flex items-center gap-2 whitespace-nowrap">
        <span className="min-w-[66px]">Works</span>
        {mask ? (
          <select
            className="field min-w-0 flex-1"
            aria-label="Where the step works"
            value={mask.outside ? 'outside' : 'inside'}
            onChange={(e) =>
              e.target.value === 'everywhere'
                ? changeMask(bench, step.id, undefined, 'everywhere')
                : changeMask(bench, step.id, { ...mask, outside: e.target.value === 'outside' }, `${e.target.value} the areas`)
            }
          >
            <option value="inside">inside the areas</option>
            <option value="outside">outside the areas</option>
            <option value="everywhere">everywhere</option>
          </select>
        ) : (
          <span className="flex-1 text-ink2">everywhere</span>
        )}
      </div>
      {mask && (
        <>
          <ul aria-label="Areas" className="mt-1">
            {mask.areas.map((area, index) => (
              <AreaRow key={index} step={step} mask={mask} area={area} index={index} />
            ))}
          </ul>
          <div className="mt-1 grid grid-cols-[minmax(66px,auto)_1fr_76px] items-center gap-x-2">
            <label htmlFor={`${step.id}-soft`} title={SOFT.help}>
              {SOFT.label}
            </label>
            <span />
            <NumberField
              spec={SOFT}
              id={`${step.id}-soft`}
              value={Number((mask.soft * 100).toFixed(2))}
              description={undefined}
              onCommit={(v) => changeMask(bench, step.id, { ...mask, soft: v / 100 }, `soft edge ${v} %`)}
            />
          </div>
        </>
      )}
      <div className="mt-1 flex items-center gap-3 whitespace-nowrap">
        <span className="min-w-[66px]">Add</span>
        <button type="button" className="quiet" title="Add an oval area at the loupe" onClick={() => add('oval')}>
          oval area
        </button>
        <button type="button" className="quiet" title="Add a box area at the loupe" onClick={() => add('box')}>
          box area
        </button>
      </div>
    </fieldset>
  );
}

function AreaRow({ step, mask, area, index }: { step: PlanStep; mask: Mask; area: MaskArea; index: number }) {
  const bench = useBenchStore();
  return (
    <li className="flex items-center gap-1">
      <button
        type="button"
        className="min-w-0 flex-1 truncate text-left text-ink2 focus-visible:text-ink"
        title="Drag it on the picture; here, arrow keys move it, with Alt they change its size"
        onKeyDown={(event) => {
          const by = arrows(event, 0.01);
          if (!by) return;
          event.preventDefault();
          event.stopPropagation();
          const next = event.altKey ? stretched(area, by.dx, by.dy) : moved(area, by.dx, by.dy);
          changeMask(bench, step.id, replaced(mask, index, next), event.altKey ? 'area resized' : 'area moved');
        }}
      >
        {index + 1}: {areaText(area)}
      </button>
      <button
        type="button"
        className="grid h-5 w-5 place-items-center text-ink2 hover:text-ink"
        aria-label={`Remove area ${index + 1}`}
        onClick={() => changeMask(bench, step.id, without(mask, index), 'area removed')}
      >
        <X size={13} aria-hidden />
      </button>
    </li>
  );
}
