'use client';

import type { PlanStep } from '../../../shared/plan';
import { FoundPanel } from '../hand/foundPanel';
import { HandPanel } from '../hand/handPanel';
import { LinePanel } from '../hand/linePanel';
import { InlayPanel } from '../inlay/inlayPanel';
import { MaskPanel } from '../masks/maskPanel';
import { duplicateStep, forkStep, removeEntry, returnToMeasured } from '../state/planActions';
import { infoOf, useBench, useBenchStore } from '../state/store';
import { costText, Line, Patch, Words } from './rungParts';
import { SettingsForm } from './settingsForm';
import { RungActions, RungSwitch, SortableRung } from './sortableRung';
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
  const changed = step.measured && JSON.stringify(step.measured) !== JSON.stringify(step.settings);
  const settable = info.settings.length > 0;
  const wrong = described?.problem ?? described?.warning;
  // Open, the step says what is wrong in full below its words.
  const problem = open ? awaited : (described?.problem ?? awaited ?? wrong);
  const words = {
    name: info.name,
    off: !step.on,
    detail: step.on ? (problem ?? described?.summary ?? '') : `for ${info.answers}`,
    fault: step.on && problem !== undefined,
    cost: step.on ? costText(cost) : 'off',
    mark: changed ? 'changed' : undefined,
  };
  return (
    <SortableRung id={step.id} name={info.name} testId={`step-${step.treatment}`} on={step.on} round patch={patch} words={words}>
      {open && (
        <div className="pr-3 pb-2 pl-[28px]">
          {wrong && <p className="mb-1.5 text-warn">{wrong}</p>}
          {!step.on && (
            // Whoever opens a step that is off mostly wants it on; its settings fill the screen.
            <div className="mb-2">
              <RungSwitch id={step.id} on={false} />
            </div>
          )}
          {info.finds && <FoundPanel step={step} />}
          {info.marks && <HandPanel step={step} />}
          {(info.line ?? info.level) && <LinePanel step={step} />}
          {info.placing && <InlayPanel step={step} placing={info.placing} />}
          {settable && <SettingsForm step={step} info={info} />}
          {info.masks && <MaskPanel owner={step.id} mask={step.mask} />}
          {info.masks && moving && <SpanPanel owner={step.id} span={step.span} />}
          <RungActions>
            {step.on && <RungSwitch id={step.id} on />}
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
          </RungActions>
        </div>
      )}
    </SortableRung>
  );
}
