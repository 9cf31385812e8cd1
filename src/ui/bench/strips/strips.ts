import type { Strip, StripFigures, TreatmentInfo } from '../../../archive';
import { MAX_CANDIDATES } from '../../../shared/strips';
import { mapSteps, stepOf, type Plan, type PlanStep } from '../../../shared/plan';
import type { SettingSpec } from '../../../core';
import { shownValue } from '../../../shared/settings';
import type { Proof } from '../../parts/api';

/** A candidate as it is written down before the strip is made. */
export interface Draft {
  label: string;
  step: PlanStep;
}

/** Values spread evenly over a range, both ends included, on the setting's steps. */
export function spread(from: number, to: number, count: number, spec: SettingSpec): number[] {
  const unit = spec.step ?? 1;
  const on = (v: number): number => Number((Math.round(v / unit) * unit).toFixed(4));
  const values = Array.from({ length: count }, (_, i) => on(count === 1 ? from : from + ((to - from) * i) / (count - 1)));
  return [...new Set(values)];
}

/** A range round the present value in which a change is worth trying. */
export function rangeAround(value: number, spec: SettingSpec): { from: number; to: number } {
  const { min = 0, max = 1 } = spec;
  const reach = Math.max((max - min) / 12, Math.abs(value) * 0.75);
  return { from: Math.max(min, Number((value - reach).toFixed(3))), to: Math.min(max, Number((value + reach).toFixed(3))) };
}

/** Numbers as they are typed, apart by spaces, commas or semicolons; what lies out of bounds is put to the bound. */
export function typedValues(text: string, spec: SettingSpec): number[] {
  const { min = -Infinity, max = Infinity } = spec;
  const numbers = text
    .split(/[\s;,]+/)
    .filter(Boolean)
    .map(Number)
    .filter(Number.isFinite)
    .map((v) => Math.min(max, Math.max(min, spec.whole ? Math.round(v) : v)));
  return [...new Set(numbers)];
}

/** Candidates that differ in one setting. */
export function bySetting(step: PlanStep, spec: SettingSpec, values: unknown[]): Draft[] {
  return values.slice(0, MAX_CANDIDATES).map((value) => {
    return {
      label: `${spec.label} ${shownValue(spec, value)}`,
      step: { ...step, on: true, settings: { ...step.settings, [spec.key]: value } },
    };
  });
}

/** Candidates that are other treatments in the step's place; the step's own keeps its settings, and it may be left out. */
export function byTreatment(step: PlanStep, chosen: (TreatmentInfo | 'off')[]): Draft[] {
  return chosen.slice(0, MAX_CANDIDATES).map((info) => {
    if (info === 'off') return { label: 'left out', step: { ...step, on: false } };
    if (info.id === step.treatment) return { label: info.name, step: { ...step, on: true } };
    const settings = Object.fromEntries(info.settings.map((s) => [s.key, s.default]));
    return { label: info.name, step: { id: step.id, treatment: info.id, on: true, settings } };
  });
}

/** What a proof of a piece says of a candidate. @param expected seconds the step is known to take, for when all was remembered. */
export function figuresFrom(answer: Proof, stepId: string, expected: number | undefined): StripFigures {
  const spent = answer.steps.find((s) => s.id === stepId)?.milliseconds ?? 0;
  return {
    seconds: spent > 0 ? spent / 1000 : (expected ?? null),
    edges: answer.figures?.edges ?? null,
    noise: answer.figures?.noise ?? 0,
    invented: answer.invented ?? 0,
  };
}

/** The plan with a strip's candidate in place of its step; at the end where the step is gone. */
export function planWith(plan: Plan, strip: Strip, candidate: number): Plan {
  const { step } = strip.candidates[candidate];
  const present = stepOf(plan, strip.step);
  if (!present) return { ...plan, steps: [...plan.steps, step] };
  const measured = present.treatment === step.treatment ? present.measured : undefined;
  return mapSteps(plan, (s) => (s.id === strip.step ? { ...step, ...(measured && { measured }) } : s));
}
