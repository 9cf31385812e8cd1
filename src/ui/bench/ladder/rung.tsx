'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { PlanStep } from '../../../shared/plan';
import { MaskPanel } from '../masks/maskPanel';
import { duplicateStep, forkStep, removeEntry, returnToMeasured, switchEntry } from '../state/planActions';
import { infoOf, useBench, useBenchStore } from '../state/store';
import { costText, Line, LookButton, MoveHandle, Patch, Words } from './rungParts';
import { SettingsForm } from './settingsForm';
import { SpanPanel } from './spanPanel';
import type { Proof } from '../../parts/api';
import type { PlanDescription } from '../../../archive';

/** The first or last rung: what comes in, what goes out. */
export function EndRung({
  name,
  detail,
  cost,
  patch,
  last = false,
}: {
  name: string;
  detail: string;
  cost: string;
  patch: Proof | undefined;
  last?: boolean;
}) {
  return (
    <li className="relative flex gap-[10px] py-[5px] pr-3 pl-[28px]">
      <Line from={last ? 'top' : 'middle'} />
      <span className="absolute top-[24px] left-[10px] h-[9px] w-[9px] bg-ink" style={{ borderRadius: '50%' }} aria-hidden />
      <Patch answer={patch} label={name} />
      <Words name={name} detail={detail} cost={cost} />
    </li>
  );
}

/** A step: its patch, name, cost and summary; open, its settings. */
export function StepRung({
  step,
  patch,
  described,
}: {
  step: PlanStep;
  patch: Proof | undefined;
  described: PlanDescription['steps'][number] | undefined;
}) {
  const bench = useBenchStore();
  const info = useBench((s) => infoOf(s, step));
  const open = useBench((s) => s.opened === step.id);
  const cost = useBench((s) => s.costs[step.id]);
  const awaited = useBench((s) => s.awaited[step.id]);
  const moving = useBench((s) => s.description.source.frames > 1);
  const { setNodeRef, transform, transition, isDragging, ...handle } = useSortable({ id: step.id });
  const changed = step.measured && JSON.stringify(step.measured) !== JSON.stringify(step.settings);
  const settable = info.settings.length > 0;
  return (
    <li
      ref={setNodeRef}
      data-testid={`step-${step.treatment}`}
      className={`relative ${open ? 'border-y bg-sheet' : ''} ${isDragging ? 'z-10 bg-paper2' : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <div className="relative flex gap-[10px] py-[5px] pr-3 pl-[28px]">
        <Line from="through" />
        <MoveHandle name={info.name} on={step.on} open={open} round {...handle} />
        <LookButton id={step.id} name={info.name} on={step.on} patch={patch} />
        <button
          type="button"
          className="min-w-0 flex-1 cursor-pointer text-left"
          aria-expanded={open}
          onClick={() => bench.setState({ opened: open ? undefined : step.id })}
        >
          <Words
            name={info.name}
            off={!step.on}
            detail={step.on ? (described?.problem ?? awaited ?? described?.warning ?? described?.summary ?? '') : `for ${info.answers}`}
            fault={step.on && Boolean(described?.problem ?? awaited ?? described?.warning)}
            cost={step.on ? costText(cost) : 'off'}
            mark={changed ? 'changed' : undefined}
          />
        </button>
      </div>
      {open && (
        <div className="pr-3 pb-2 pl-[28px]">
          {described?.problem || described?.warning ? <p className="mb-1.5 text-warn">{described.problem ?? described.warning}</p> : null}
          {settable && <SettingsForm step={step} info={info} />}
          {info.masks && <MaskPanel owner={step.id} mask={step.mask} />}
          {info.masks && moving && <SpanPanel owner={step.id} span={step.span} />}
          <div className="mt-1.5 flex flex-wrap items-center gap-x-2 gap-y-1 whitespace-nowrap">
            <button type="button" className="btn" onClick={() => switchEntry(bench, step.id)}>
              {step.on ? 'Switch off' : 'Switch on'}
            </button>
            <button
              type="button"
              className="quiet disabled:cursor-default disabled:font-normal disabled:text-ink3 disabled:no-underline"
              disabled={step.measured ? !changed : false}
              onClick={() => returnToMeasured(bench, step.id)}
            >
              {step.measured ? (changed ? 'Reset to measured' : 'as measured') : 'defaults'}
            </button>
            <span className="ml-auto flex gap-x-3">
              <button
                type="button"
                className="quiet"
                title="Two ways of it, one laid over the other"
                onClick={() => forkStep(bench, step.id)}
              >
                Fork
              </button>
              <button type="button" className="quiet" title="Puts a copy right after it" onClick={() => duplicateStep(bench, step.id)}>
                Duplicate
              </button>
              <button type="button" className="quiet" onClick={() => removeEntry(bench, step.id)}>
                Remove
              </button>
            </span>
          </div>
        </div>
      )}
    </li>
  );
}
