import { shownValue } from '../../shared/settings';
import { treatment } from '../treatments/register';
import { settingSpecs } from '../treatments/setting';
import { isFork, type Fork, type Plan, type PlanEntry, type PlanStep } from '../../shared/plan';

/** What another plan would change, in words, a line a step. Steps are matched by treatment, forks and branches in order. */
export const planChanges = (from: Plan, to: Plan): string[] => entryChanges(from.steps, to.steps);

function entryChanges(from: PlanEntry[], to: PlanEntry[]): string[] {
  const left = [...from];
  const lines: string[] = [];
  const order: number[] = [];
  for (const entry of to) {
    const at = left.findIndex((s) => kindOf(s) === kindOf(entry));
    if (at < 0) {
      if (entry.on) lines.push(`${nameOf(entry)} added`);
      continue;
    }
    const [old] = left.splice(at, 1);
    order.push(from.indexOf(old));
    lines.push(...changesOf(old, entry));
  }
  lines.push(...left.filter((s) => s.on).map((s) => `${nameOf(s)} removed`));
  if (order.some((n, i) => i > 0 && n < order[i - 1])) lines.push('another order');
  return lines;
}

function changesOf(old: PlanEntry, entry: PlanEntry): string[] {
  // What is off and stays off changes nothing, whatever its settings are.
  if (!old.on && !entry.on) return [];
  const parts = switched(old, entry);
  if (isFork(entry)) return [...said(entry, parts), ...branchChanges(old as Fork, entry)];
  const step = old as PlanStep;
  parts.push(...settingsChanged(step, entry));
  if (step.mask && !entry.mask) parts.push('works everywhere');
  if (step.span && !entry.span) parts.push('works all the time');
  return said(entry, parts);
}

function branchChanges(from: Fork, to: Fork): string[] {
  return to.branches.flatMap((branch, n) => {
    const old = from.branches.at(n);
    if (!old) return [`branch ${branch.name} added`];
    const parts = switched(old, branch);
    if (old.opacity !== branch.opacity) parts.push(`opacity ${branch.opacity} % (${old.opacity} %)`);
    if (old.mask && !branch.mask) parts.push('seen everywhere');
    return [
      ...(parts.length ? [`branch ${branch.name}: ${parts.join(', ')}`] : []),
      ...entryChanges(old.steps, branch.steps).map((line) => `${branch.name}, ${line}`),
    ];
  });
}

const said = (entry: PlanEntry, parts: string[]): string[] => (parts.length ? [`${nameOf(entry)}: ${parts.join(', ')}`] : []);

const kindOf = (entry: PlanEntry): string => (isFork(entry) ? '(fork)' : entry.treatment);

const nameOf = (entry: PlanEntry): string => (isFork(entry) ? 'Fork' : (treatment(entry.treatment)?.name ?? entry.treatment));

const switched = (old: { on: boolean }, step: { on: boolean }): string[] => (old.on === step.on ? [] : [step.on ? 'on' : 'off']);

function settingsChanged(old: PlanStep, step: PlanStep): string[] {
  const kind = treatment(step.treatment);
  if (!kind) return [];
  return settingSpecs(kind.settings).flatMap((spec) => {
    const [before, after] = [old.settings[spec.key], step.settings[spec.key]];
    if (before === after) return [];
    return [`${spec.label.toLowerCase()} ${shownValue(spec, after)} (${shownValue(spec, before)})`];
  });
}
