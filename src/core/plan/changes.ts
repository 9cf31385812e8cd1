import { treatment } from '../treatments/register';
import { settingSpecs } from '../treatments/setting';
import type { Plan, PlanStep } from './plan';

/** What another plan would change, in words, a line a step. Steps are matched by treatment, in order. */
export function planChanges(from: Plan, to: Plan): string[] {
  const left = [...from.steps];
  const lines: string[] = [];
  const order: number[] = [];
  for (const step of to.steps) {
    const at = left.findIndex((s) => s.treatment === step.treatment);
    if (at < 0) {
      if (step.on) lines.push(`${nameOf(step)} added`);
      continue;
    }
    const [old] = left.splice(at, 1);
    order.push(from.steps.indexOf(old));
    // What is off and stays off changes nothing, whatever its settings are.
    if (!old.on && !step.on) continue;
    const parts = [...switched(old, step), ...settingsChanged(old, step)];
    if (old.mask && !step.mask) parts.push('works everywhere');
    if (old.span && !step.span) parts.push('works all the time');
    if (parts.length) lines.push(`${nameOf(step)}: ${parts.join(', ')}`);
  }
  lines.push(...left.filter((s) => s.on).map((s) => `${nameOf(s)} taken out`));
  if (order.some((n, i) => i > 0 && n < order[i - 1])) lines.push('another order');
  return lines;
}

const nameOf = (step: PlanStep): string => treatment(step.treatment)?.name ?? step.treatment;

const switched = (old: PlanStep, step: PlanStep): string[] => (old.on === step.on ? [] : [step.on ? 'on' : 'off']);

function settingsChanged(old: PlanStep, step: PlanStep): string[] {
  const kind = treatment(step.treatment);
  if (!kind) return [];
  return settingSpecs(kind.settings).flatMap((spec) => {
    const [before, after] = [old.settings[spec.key], step.settings[spec.key]];
    if (before === after) return [];
    const shown = (v: unknown): string =>
      spec.options?.find((o) => o.value === v)?.label ??
      (typeof v === 'boolean' ? (v ? 'on' : 'off') : `${String(v)}${spec.unit ? ` ${spec.unit}` : ''}`);
    return [`${spec.label.toLowerCase()} ${shown(after)} (${shown(before)})`];
  });
}
