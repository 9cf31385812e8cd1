import { arrayMove } from '@dnd-kit/sortable';
import type { Mask } from '../../core/plan/mask';
import type { Plan, PlanStep } from '../../core/plan/plan';
import { infoOf, type Bench } from './store';

/** Changes of the plan. Each is one step of undo and names itself in words for the plan's history. */

function commit(bench: Bench, change: string, steps: PlanStep[]): void {
  bench.setState({ plan: { ...bench.getState().plan, steps }, change, draft: undefined });
}

const stepOf = (plan: Plan, id: string): PlanStep => plan.steps.find((s) => s.id === id) as PlanStep;

function nameOf(bench: Bench, id: string): string {
  const state = bench.getState();
  return infoOf(state, stepOf(state.plan, id)).name;
}

function withSettings(plan: Plan, id: string, settings: Record<string, unknown>): PlanStep[] {
  return plan.steps.map((s) => (s.id === id ? { ...s, settings } : s));
}

/** A setting while it is being dragged: seen at once, not yet part of the history. */
export function previewSetting(bench: Bench, id: string, key: string, value: unknown): void {
  const { plan } = bench.getState();
  bench.setState({ draft: { ...plan, steps: withSettings(plan, id, { ...stepOf(plan, id).settings, [key]: value }) } });
}

export function changeSetting(bench: Bench, id: string, key: string, value: unknown): void {
  const state = bench.getState();
  const step = stepOf(state.plan, id);
  if (step.settings[key] === value) {
    bench.setState({ draft: undefined });
    return;
  }
  const info = infoOf(state, step);
  const spec = info.settings.find((s) => s.key === key);
  const shown = spec?.options?.find((o) => o.value === value)?.label ?? String(value);
  commit(bench, `${info.name}: ${spec?.label ?? key} ${shown}`, withSettings(state.plan, id, { ...step.settings, [key]: value }));
}

const withMask = (plan: Plan, id: string, mask: Mask | undefined): PlanStep[] => plan.steps.map((s) => (s.id === id ? { ...s, mask } : s));

/** A mask while it is being dragged. */
export function previewMask(bench: Bench, id: string, mask: Mask): void {
  const { plan } = bench.getState();
  bench.setState({ draft: { ...plan, steps: withMask(plan, id, mask) } });
}

/** Another mask, or none. */
export function changeMask(bench: Bench, id: string, mask: Mask | undefined, words: string): void {
  commit(bench, `${nameOf(bench, id)}: ${words}`, withMask(bench.getState().plan, id, mask));
}

/** Takes a step back to what was measured, or to the defaults when nothing was. */
export function returnToMeasured(bench: Bench, id: string): void {
  const state = bench.getState();
  const step = stepOf(state.plan, id);
  const defaults = Object.fromEntries(infoOf(state, step).settings.map((s) => [s.key, s.default]));
  commit(bench, `${nameOf(bench, id)}: back to measured`, withSettings(state.plan, id, step.measured ?? defaults));
}

export function switchStep(bench: Bench, id: string): void {
  const { plan } = bench.getState();
  const on = !stepOf(plan, id).on;
  commit(
    bench,
    `${nameOf(bench, id)} ${on ? 'on' : 'off'}`,
    plan.steps.map((s) => (s.id === id ? { ...s, on } : s)),
  );
}

export function moveStep(bench: Bench, id: string, overId: string): void {
  const { steps } = bench.getState().plan;
  const from = steps.findIndex((s) => s.id === id),
    to = steps.findIndex((s) => s.id === overId);
  if (from < 0 || to < 0 || from === to) return;
  commit(bench, `${nameOf(bench, id)} moved to place ${to + 1}`, arrayMove(steps, from, to));
}

export function removeStep(bench: Bench, id: string): void {
  const { plan } = bench.getState();
  commit(
    bench,
    `${nameOf(bench, id)} taken out`,
    plan.steps.filter((s) => s.id !== id),
  );
}

/** Adds a treatment at the ladder's end, open and switched on. */
export function addStep(bench: Bench, treatment: string): void {
  const { plan, treatments } = bench.getState();
  const info = treatments.find((t) => t.id === treatment);
  if (!info) return;
  const step: PlanStep = {
    id: crypto.randomUUID(),
    treatment,
    on: true,
    settings: Object.fromEntries(info.settings.map((s) => [s.key, s.default])),
  };
  commit(bench, `${info.name} added`, [...plan.steps, step]);
  bench.setState({ opened: step.id });
}

export function undo(bench: Bench): void {
  bench.setState({ draft: undefined });
  bench.temporal.getState().undo();
}

export function redo(bench: Bench): void {
  bench.setState({ draft: undefined });
  bench.temporal.getState().redo();
}
