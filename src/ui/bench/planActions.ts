import { arrayMove } from '@dnd-kit/sortable';
import type { Mask } from '../../core/plan/mask';
import type { Plan, PlanStep, Span } from '../../core/plan/plan';
import { toast } from 'sonner';
import type { Strip } from '../../archive/types';
import { api } from '../parts/api';
import { shownValue } from '../parts/setting';
import { recorded } from './history';
import { infoOf, type Bench } from './store';
import { stepsWith } from './strips';

/** Changes of the plan. Each is one step of undo and names itself in words for the plan's history. */

function commit(bench: Bench, change: string, steps: PlanStep[]): void {
  const { plan, history } = bench.getState();
  const next = { ...plan, steps };
  bench.setState({ plan: next, history: recorded(history, next, change), draft: undefined });
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

/** Takes one setting back to what was measured, or to its default. */
export function returnSetting(bench: Bench, id: string, key: string): void {
  const state = bench.getState();
  const step = stepOf(state.plan, id);
  const spec = infoOf(state, step).settings.find((s) => s.key === key);
  changeSetting(bench, id, key, step.measured ? step.measured[key] : spec?.default);
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
  commit(
    bench,
    `${info.name}: ${spec?.label ?? key} ${shownValue(spec, value)}`,
    withSettings(state.plan, id, { ...step.settings, [key]: value }),
  );
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

/** Holds a step to a stretch of the source's running time, or lets it work all the time. */
export function changeSpan(bench: Bench, id: string, span: Span | undefined): void {
  const words = span ? `frames ${span.first} to ${span.last}` : 'all the time';
  commit(
    bench,
    `${nameOf(bench, id)}: ${words}`,
    bench.getState().plan.steps.map((s) => (s.id === id ? { ...s, span } : s)),
  );
}

/** Takes a step back to what was measured, or to the defaults when nothing was. */
export function returnToMeasured(bench: Bench, id: string): void {
  const state = bench.getState();
  const step = stepOf(state.plan, id);
  const defaults = Object.fromEntries(infoOf(state, step).settings.map((s) => [s.key, s.default]));
  commit(bench, `${nameOf(bench, id)}: reset to measured`, withSettings(state.plan, id, step.measured ?? defaults));
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
    `${nameOf(bench, id)} removed`,
    plan.steps.filter((s) => s.id !== id),
  );
}

/** Puts a copy of a step right after it. */
export function duplicateStep(bench: Bench, id: string): void {
  const { steps } = bench.getState().plan;
  const index = steps.findIndex((s) => s.id === id);
  const copy = { ...steps[index], id: crypto.randomUUID() };
  commit(bench, `${nameOf(bench, id)}: duplicated`, steps.toSpliced(index + 1, 0, copy));
  bench.setState({ opened: copy.id });
}

/** Takes a strip's candidate into the plan, and marks it in the strip. */
export async function takeCandidate(bench: Bench, strip: Strip, candidate: number): Promise<void> {
  commit(bench, `${strip.about}, ${strip.candidates[candidate].label} from a test strip`, stepsWith(bench.getState(), strip, candidate));
  try {
    const kept = await api<Strip>(`items/${strip.itemId}/strips/${strip.id}`, { method: 'PATCH', json: { chosen: candidate } });
    if (bench.getState().strip?.id === strip.id) bench.setState({ strip: kept });
  } catch (error) {
    toast.error(`The strip does not know what was taken: ${(error as Error).message}`);
  }
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
