'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useEffect, useRef } from 'react';
import type { PlanStep } from '../../core/plan/plan';
import type { PlanDescription, ProofAnswer } from '../parts/api';
import { loupePart } from './geometry';
import { MaskPanel } from './maskPanel';
import { PATCH } from './patches';
import { duplicateStep, removeStep, returnToMeasured, switchStep } from './planActions';
import { SettingsForm } from './settingsForm';
import { SpanPanel } from './spanPanel';
import { infoOf, useBench, useBenchStore } from './store';

/** 61 ms */
const costText = (ms: number | undefined): string =>
  ms === undefined ? '' : ms < 1000 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(1)} s`;

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
  patch: ProofAnswer | undefined;
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
  patch: ProofAnswer | undefined;
  described: PlanDescription['steps'][number] | undefined;
}) {
  const bench = useBenchStore();
  const info = useBench((s) => infoOf(s, step));
  const open = useBench((s) => s.opened === step.id);
  const looked = useBench((s) => s.lookAfter === step.id);
  const cost = useBench((s) => s.costs[step.id]);
  const moving = useBench((s) => s.description.source.frames > 1);
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id: step.id });
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
        <button
          type="button"
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          aria-label={`Move ${info.name}`}
          title="Drag to move; or space, then arrow keys"
          className="absolute top-[17px] left-[2px] z-[1] grid h-[24px] w-[24px] cursor-grab touch-none place-items-center"
        >
          <span
            className={`block h-[9px] w-[9px] border ${step.on ? (open ? 'border-act bg-act' : 'border-ink bg-ink') : 'border-ink3 bg-paper'}`}
          />
        </button>
        <button
          type="button"
          className={`h-[50px] w-[50px] shrink-0 border ${looked ? 'border-2 border-act' : 'border-rule2'}`}
          aria-pressed={looked}
          aria-label={`Look at the picture after ${info.name}`}
          title={looked ? 'Look at the whole plan again' : `Look at the picture after ${info.name}`}
          disabled={!step.on}
          onClick={() => bench.setState({ lookAfter: looked ? undefined : step.id })}
        >
          <Patch answer={patch} label="" dim={!step.on} bare />
        </button>
        <button
          type="button"
          className="min-w-0 flex-1 cursor-pointer text-left"
          aria-expanded={open}
          onClick={() => bench.setState({ opened: open ? undefined : step.id })}
        >
          <Words
            name={info.name}
            off={!step.on}
            detail={step.on ? (described?.problem ?? described?.warning ?? described?.summary ?? '') : `for ${info.answers}`}
            fault={step.on && Boolean(described?.problem ?? described?.warning)}
            cost={step.on ? costText(cost) : 'off'}
            mark={changed ? 'changed' : undefined}
          />
        </button>
      </div>
      {open && (
        <div className="pr-3 pb-2 pl-[28px]">
          {described?.problem || described?.warning ? <p className="mb-1.5 text-warn">{described.problem ?? described.warning}</p> : null}
          {settable && <SettingsForm step={step} info={info} />}
          {info.masks && <MaskPanel step={step} />}
          {info.masks && moving && <SpanPanel step={step} />}
          <div className="mt-1.5 flex flex-wrap items-center gap-x-2 gap-y-1 whitespace-nowrap">
            <button type="button" className="btn" onClick={() => switchStep(bench, step.id)}>
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
              <button type="button" className="quiet" title="Puts a copy right after it" onClick={() => duplicateStep(bench, step.id)}>
                Duplicate
              </button>
              <button type="button" className="quiet" onClick={() => removeStep(bench, step.id)}>
                Remove
              </button>
            </span>
          </div>
        </div>
      )}
    </li>
  );
}

function Line({ from }: { from: 'top' | 'middle' | 'through' }) {
  const reach = { top: 'top-0 h-[28px]', middle: 'top-[28px] bottom-0', through: 'inset-y-0' }[from];
  return <span className={`absolute left-[14px] w-px bg-rule2 ${reach}`} aria-hidden />;
}

function Words({
  name,
  detail,
  cost,
  off = false,
  fault = false,
  mark,
}: {
  name: string;
  detail: string;
  cost: string;
  off?: boolean;
  fault?: boolean;
  mark?: string;
}) {
  return (
    <span className="block min-w-0 flex-1 pt-[5px]">
      <span className="flex items-baseline justify-between gap-2">
        <span className={`truncate ${off ? 'text-ink3' : 'font-semibold'}`}>{name}</span>
        <span className="shrink-0 text-ink2 tabular-nums">{cost}</span>
      </span>
      <span className="flex justify-between gap-2">
        <span className={`block truncate ${fault ? 'text-warn' : 'text-ink2'}`} title={detail}>
          {detail}
        </span>
        {mark && <span className="shrink-0 text-act">{mark}</span>}
      </span>
    </span>
  );
}

/** The loupe's part as it is at one place of the ladder. */
function Patch({
  answer,
  label,
  dim = false,
  bare = false,
}: {
  answer: ProofAnswer | undefined;
  label: string;
  dim?: boolean;
  bare?: boolean;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const loupe = useBench((s) => s.loupe);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !answer) return;
    const { width, height } = context.canvas;
    const part = loupePart(answer.output, loupe.u, loupe.v);
    const sx = width / part.width,
      sy = height / part.height;
    context.imageSmoothingQuality = 'high';
    context.clearRect(0, 0, width, height);
    context.drawImage(
      answer.bitmap,
      (answer.place.x - part.x) * sx,
      (answer.place.y - part.y) * sy,
      answer.place.width * sx,
      answer.place.height * sy,
    );
  }, [answer, loupe]);
  return (
    <canvas
      ref={canvas}
      width={PATCH * 2}
      height={PATCH * 2}
      className={`block shrink-0 bg-[#777] ${bare ? 'h-full w-full' : 'h-[50px] w-[50px] border border-rule2'} ${dim ? 'opacity-40' : ''}`}
      data-filled={answer !== undefined}
      {...(label ? { role: 'img', 'aria-label': `Loupe, ${label}` } : { 'aria-hidden': true })}
    />
  );
}
