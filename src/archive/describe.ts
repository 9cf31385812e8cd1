import type { Item } from './types';
import { measuredStream } from './items';
import type { StreamInfo } from '../core/picture/picture';
import { networkCard } from '../core/networks/model';
import type { Mask } from '../core/plan/mask';
import { predictedSeconds, type Pace } from '../core/plan/pace';
import { frameBefore, placeInOutput, planStreams, planWarnings, readySteps, type Plan, type Span } from '../core/plan/plan';
import { TREATMENTS, treatment } from '../core/treatments/register';
import { settingSpecs, type SettingSpec } from '../core/treatments/setting';
import type { Place } from '../core/treatments/treatment';

/** A treatment as the interface needs it. */
export interface TreatmentInfo {
  id: string;
  name: string;
  answers: string;
  settings: SettingSpec[];
  /** Whether a mask can hold it to a part of the picture. */
  masks: boolean;
}

export function treatmentInfos(): TreatmentInfo[] {
  return TREATMENTS.map((t) => ({
    id: t.id,
    name: t.name,
    answers: t.answers,
    settings: settingSpecs(t.settings),
    masks: t.inPlace === true,
  }));
}

export interface StepDescription {
  id: string;
  summary: string;
  problem?: string;
  warning?: string;
  /** Expected seconds a frame, by quality, where the treatment offers a choice and this machine's pace is known. */
  seconds?: Record<string, number>;
  /** Where the frame the step reads lies in the plan's output, in fractions of it; when the plan runs. */
  place?: Place;
}

/** What each step of a plan makes of an item, and what is wrong. */
export interface PlanDescription {
  steps: StepDescription[];
  /** Stream after the last step; the source's when the plan cannot run. */
  output: StreamInfo;
  source: StreamInfo;
  /** Frames of the source that the output shows. */
  shows: Span;
  /** Whether the whole plan can run. */
  runs: boolean;
}

/**
 * @param machine how fast this machine is, when it has been measured.
 */
export function describePlan(item: Item, plan: Plan, machine?: { pace: Pace; cores: number }): PlanDescription {
  const source = measuredStream(item);
  const warnings = new Map(planWarnings(plan, source).map((w) => [w.step, w.text]));
  let info = source;
  let runs = true;
  const steps = plan.steps.map((step): StepDescription => {
    const kind = treatment(step.treatment);
    if (!kind) return { id: step.id, summary: '', problem: 'unknown treatment' };
    const settings = Object.assign(new kind.settings(), step.settings);
    try {
      if (!kind.suits(info))
        return {
          id: step.id,
          summary: 'does not apply here',
          ...(step.on && { problem: `${kind.name} does not work on this kind of picture.` }),
        };
      if (step.on) kind.networks?.(settings, info).forEach(networkCard);
      const summary = kind.summary(settings, info);
      const input = info;
      const effort = (quality: string): number => kind.effort?.(Object.assign(new kind.settings(), settings, { quality }), input) ?? 1;
      const seconds = machine && predictedSeconds(machine.pace, kind.id, input, machine.cores, effort);
      const output = kind.output(info, settings);
      if (step.on) info = output;
      return {
        id: step.id,
        summary: step.on ? `${maskText(step.mask)}${spanText(step.span)}${summary}` : 'off',
        ...(seconds && { seconds }),
        ...(warnings.has(step.id) && { warning: warnings.get(step.id) }),
      };
    } catch (error) {
      if (!step.on) return { id: step.id, summary: 'off' };
      runs = false;
      return { id: step.id, summary: 'cannot run', problem: (error as Error).message };
    }
  });
  if (steps.some((s) => s.problem)) runs = false;
  const shows = runs ? placeSteps(steps, plan, source) : { first: 0, last: source.frames - 1 };
  return { steps, output: runs ? info : source, source, shows, runs };
}

/** Stands before the summary: that a step works in a part only must never be cut off. */
const maskText = (mask: Mask | undefined): string =>
  mask ? `${mask.outside ? 'outside' : 'inside'} ${mask.areas.length} ${mask.areas.length === 1 ? 'area' : 'areas'}: ` : '';

const spanText = (span: Span | undefined): string => (span ? `frames ${span.first} to ${span.last}: ` : '');

/** Adds the places to the steps. @returns the frames of the source that the output shows. */
function placeSteps(steps: StepDescription[], plan: Plan, source: StreamInfo): Span {
  const ready = readySteps(plan);
  const streams = planStreams(ready, source);
  const output = streams[streams.length - 1];
  for (const step of steps) {
    const index = ready.findIndex((r) => r.id === step.id);
    if (index < 0) continue;
    const { x, y, width, height } = placeInOutput(ready, streams, index);
    step.place = { x: x / output.width, y: y / output.height, width: width / output.width, height: height / output.height };
  }
  const at = (n: number): number => frameBefore(ready, streams, n, ready.length, 0);
  return { first: at(0), last: at(output.frames - 1) };
}
