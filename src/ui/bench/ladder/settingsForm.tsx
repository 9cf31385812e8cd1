'use client';

import { Slider, ToggleGroup } from 'radix-ui';
import { ChevronRight } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import type { PlanStep } from '../../../shared/plan';
import type { SettingSpec } from '../../../core';
import { NumberField } from './numberField';
import { FacesField } from '../faces/facesField';
import { ReferencesField } from '../faces/referencesField';
import { CornersField } from '../geometry/cornersField';
import { ColourField } from '../tone/colourField';
import { CurveField } from '../tone/curveField';
import { PictureField } from '../tone/pictureField';
import { changeSetting, previewSetting, returnSetting } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';
import { secondsText } from '../../parts/format';
import { shownValue } from '../../../shared/settings';
import type { TreatmentInfo } from '../../../archive';

/** More steps than this and a slider cannot meet one: a number field stands alone. */
const SLIDER_STEPS = 2000;

/** The settings of a step, made from their description; a plan kept before one existed has its default. */
export function SettingsForm({ step: kept, info }: { step: PlanStep; info: TreatmentInfo }) {
  const defaults = Object.fromEntries(info.settings.map((s) => [s.key, s.default]));
  const step = {
    ...kept,
    settings: { ...defaults, ...kept.settings },
    ...(kept.measured && { measured: { ...defaults, ...kept.measured } }),
  };
  const still = useBench((s) => s.description.source.frames === 1);
  const shown = info.settings.filter(
    (s) => s.key !== info.placing?.picture && !(s.moving && still) && (!s.when || s.when.is.includes(String(step.settings[s.when.key]))),
  );
  const [told, setTold] = useState<string>();
  const explained = shown.find((s) => s.key === told) ?? shown[0];
  return (
    <>
      {groupsOf(shown).map(({ name, specs }, index) => (
        <Group key={name ?? index} name={name} open={index === 0 || specs.some((s) => step.settings[s.key] !== s.default)}>
          <div className="grid grid-cols-[minmax(66px,auto)_1fr_76px] items-center gap-x-2 gap-y-[5px] py-[3px]">
            {specs.map((spec) => (
              <div key={spec.key} className="contents" onFocus={() => setTold(spec.key)} onPointerEnter={() => setTold(spec.key)}>
                <SettingRow spec={spec} step={step} />
              </div>
            ))}
          </div>
        </Group>
      ))}
      {explained && <Explanation spec={explained} step={step} />}
    </>
  );
}

/** Settings that follow one another under one heading. */
function groupsOf(specs: SettingSpec[]): { name: string | undefined; specs: SettingSpec[] }[] {
  const groups: { name: string | undefined; specs: SettingSpec[] }[] = [];
  for (const spec of specs) {
    const last = groups.at(-1);
    if (last && last.name === spec.group) last.specs.push(spec);
    else groups.push({ name: spec.group, specs: [spec] });
  }
  return groups;
}

/** A heading that opens and closes what stands under it; without a name all of it is there. @param open at first. */
function Group({ name, open, children }: { name: string | undefined; open: boolean; children: ReactNode }) {
  const [shown, setShown] = useState(open);
  if (name === undefined) return children;
  return (
    <section className="mb-1">
      <h4>
        <button
          type="button"
          className="flex min-h-[24px] w-full items-center gap-1 text-left text-ink2 hover:text-ink"
          aria-expanded={shown}
          onClick={() => setShown(!shown)}
        >
          <ChevronRight size={12} aria-hidden className={shown ? 'rotate-90' : ''} />
          {name}
        </button>
      </h4>
      {shown && children}
    </section>
  );
}

/** What the setting at hand does, its bounds, what was measured; always as high, so that nothing jumps. */
function Explanation({ spec, step }: { spec: SettingSpec; step: PlanStep }) {
  const bench = useBenchStore();
  const value = step.settings[spec.key],
    start = step.measured ? step.measured[spec.key] : spec.default;
  const word = step.measured ? 'measured' : 'at first';
  return (
    <div className="mt-1.5 min-h-[92px] border-t pt-1 text-[12px] leading-[16px] text-ink2" data-testid="explanation">
      <p>
        <span className="font-semibold text-ink">{spec.label}.</span> {spec.help}
      </p>
      <p className="tabular-nums">
        {spec.kind === 'number' && `${spec.min} to ${spec.max}${spec.unit ? ` ${spec.unit}` : ''}; `}
        {word} {shownValue(spec, start)}{' '}
        {value !== start && (
          <button type="button" className="quiet" onClick={() => returnSetting(bench, step.id, spec.key)}>
            Reset
          </button>
        )}
      </p>
    </div>
  );
}

function SettingRow({ spec, step }: { spec: SettingSpec; step: PlanStep }) {
  const id = `${step.id}-${spec.key}`;
  const value = step.settings[spec.key],
    measured = step.measured?.[spec.key];
  const changed = step.measured !== undefined && value !== measured;
  return (
    <>
      {spec.kind !== 'curve' && spec.kind !== 'faces' && (
        <label htmlFor={id} title={spec.help} className={`truncate ${changed ? 'font-semibold' : ''}`}>
          {spec.label}
        </label>
      )}
      {spec.kind === 'number' && (
        <NumberControls
          spec={spec}
          step={step}
          id={id}
          value={Number(value)}
          measured={typeof measured === 'number' ? measured : undefined}
        />
      )}
      {spec.kind === 'choice' && <Choice spec={spec} step={step} id={id} value={String(value)} />}
      {spec.kind === 'colour' && <ColourField spec={spec} step={step} id={id} value={String(value)} />}
      {spec.kind === 'corners' && <CornersField spec={spec} step={step} id={id} value={String(value)} />}
      {spec.kind === 'picture' && <PictureField spec={spec} step={step} id={id} value={String(value)} />}
      {spec.kind === 'faces' && <FacesField step={step} settingKey={spec.key} value={String(value)} />}
      {spec.kind === 'references' && <ReferencesField step={step} settingKey={spec.key} value={String(value)} id={id} />}
      {spec.kind === 'curve' && <CurveField spec={spec} step={step} id={id} value={String(value)} />}
      {spec.kind === 'flag' && <Flag spec={spec} step={step} id={id} value={value === true} />}
    </>
  );
}

function NumberControls({
  spec,
  step,
  id,
  value,
  measured,
}: {
  spec: SettingSpec;
  step: PlanStep;
  id: string;
  value: number;
  measured: number | undefined;
}) {
  const bench = useBenchStore();
  const min = spec.min as number,
    max = spec.max as number,
    unit = spec.step as number;
  const slides = (max - min) / unit <= SLIDER_STEPS;
  const clean = (v: number): number => Number(v.toFixed(4));
  return (
    <>
      {slides ? (
        <Slider.Root
          className="relative flex h-5 touch-none items-center"
          min={min}
          max={max}
          step={unit}
          value={[value]}
          onKeyDown={(e) => {
            // A tenth of a step, which the slider itself cannot.
            if (!e.altKey || spec.whole || !e.key.startsWith('Arrow')) return;
            e.preventDefault();
            const by = (e.key === 'ArrowRight' || e.key === 'ArrowUp' ? unit : -unit) / 10;
            changeSetting(bench, step.id, spec.key, clean(Math.min(max, Math.max(min, value + by))));
          }}
          onValueChange={([v]) => previewSetting(bench, step.id, spec.key, clean(v))}
          onValueCommit={([v]) => changeSetting(bench, step.id, spec.key, clean(v))}
        >
          <Slider.Track className="relative h-[2px] grow bg-rule2">
            <Slider.Range className="absolute h-[2px] bg-act" />
          </Slider.Track>
          {measured !== undefined && (
            <span
              className="pointer-events-none absolute h-[9px] w-px bg-ink2"
              style={{ left: `calc(${((measured - min) / (max - min)) * 100}% - ${((measured - min) / (max - min) - 0.5) * 6}px)` }}
              title={`measured ${measured}`}
            />
          )}
          <Slider.Thumb className="block h-[13px] w-[6px] bg-act" aria-label={`${spec.label}, slider`} />
        </Slider.Root>
      ) : (
        <span />
      )}
      <NumberField
        spec={spec}
        id={id}
        value={value}
        description={measured !== undefined && measured !== value ? `changed; measured ${measured}` : undefined}
        onCommit={(v) => changeSetting(bench, step.id, spec.key, clean(v))}
      />
    </>
  );
}

/** Seconds that are shown as more than none. */
const LEAST_SECONDS = 0.0005;

/** A few short values lie side by side, more or longer ones in a list. */
function Choice({ spec, step, id, value }: { spec: SettingSpec; step: PlanStep; id: string; value: string }) {
  const bench = useBenchStore();
  const seconds = useBench((s) => s.description.steps.find((d) => d.id === step.id)?.seconds);
  const options = (spec.options ?? []).map((o) => {
    const expected = spec.key === 'quality' ? seconds?.[o.value] : undefined;
    // What takes next to nothing is not worth a figure.
    return expected === undefined || expected < LEAST_SECONDS ? o : { ...o, label: `${o.label} ${secondsText(expected)}` };
  });
  const short = options.length <= 3 && options.reduce((n, o) => n + o.label.length + 3, 0) <= 32;
  if (short)
    return (
      <ToggleGroup.Root
        id={id}
        type="single"
        className="seg col-span-2 max-w-full justify-self-start"
        value={value}
        aria-label={spec.label}
        onValueChange={(v) => v && changeSetting(bench, step.id, spec.key, v)}
      >
        {options.map((o) => (
          <ToggleGroup.Item key={o.value} value={o.value} className="min-w-0 truncate px-[7px]">
            {o.label}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    );
  return (
    <select
      id={id}
      className="field col-span-2 w-full"
      value={value}
      onChange={(e) => changeSetting(bench, step.id, spec.key, e.target.value)}
    >
      {options.map((o) => (
        <option key={o.value} value={o.value}>
          {o.label}
        </option>
      ))}
    </select>
  );
}

function Flag({ spec, step, id, value }: { spec: SettingSpec; step: PlanStep; id: string; value: boolean }) {
  const bench = useBenchStore();
  return (
    <input
      id={id}
      type="checkbox"
      className="col-span-2 my-[6px] justify-self-start accent-[var(--act)]"
      checked={value}
      onChange={(e) => changeSetting(bench, step.id, spec.key, e.target.checked)}
    />
  );
}
