import { toast } from 'sonner';
import type { Strip, TreatmentInfo } from '../../../archive';
import type { Mask } from '../../../shared/masks/mask';
import {
  allForks,
  allSteps,
  isFork,
  mapForks,
  mapLists,
  mapSteps,
  stepOf,
  type Branch,
  type Fork,
  type Plan,
  type PlanEntry,
  type PlanStep,
  type Span,
} from '../../../shared/plan';
import { api } from '../../parts/api';
import { shownValue } from '../../../shared/settings';
import { planWith } from '../strips/strips';
import { recorded } from './history';
import { infoOf, type Bench } from './store';
import type { StripUpdateRequest } from '../../../shared/requests';

/** Changes of the plan. Each is one step of undo and names itself in words for the plan's history. */

export function commit(bench: Bench, change: string, plan: Plan): void {
  bench.setState({ plan, history: recorded(bench.getState().history, plan, change), draft: undefined });
}

const found = (plan: Plan, id: string): PlanStep => stepOf(plan, id) as PlanStep;

export const branchOf = (plan: Plan, id: string | undefined): Branch | undefined =>
  allForks(plan)
    .flatMap((f) => f.branches)
    .find((b) => b.id === id);

/** What a step, a fork or a branch is called. */
export function nameOf(bench: Bench, id: string): string {
  const state = bench.getState();
  const step = stepOf(state.plan, id);
  if (step) return infoOf(state, step).name;
  return branchOf(state.plan, id)?.name ?? 'Fork';
}

const withStep = (plan: Plan, id: string, change: Partial<PlanStep>): Plan =>
  mapSteps(plan, (s) => (s.id === id ? { ...s, ...change } : s));

export const withBranch = (plan: Plan, id: string, change: Partial<Branch>): Plan =>
  mapForks(plan, (fork) => ({ ...fork, branches: fork.branches.map((b) => (b.id === id ? { ...b, ...change } : b)) }));

/** A setting while it is being dragged: seen at once, not yet part of the history. */
export const previewSetting = (bench: Bench, id: string, key: string, value: unknown): void => previewSettings(bench, id, { [key]: value });

/** Several settings of a step while they are being dragged: seen at once, not yet part of the history. */
export function previewSettings(bench: Bench, id: string, settings: Record<string, unknown>): void {
  const { plan } = bench.getState();
  bench.setState({ draft: withStep(plan, id, { settings: { ...found(plan, id).settings, ...settings } }) });
}

/** Takes one setting back to what was measured, or to its default. */
export function returnSetting(bench: Bench, id: string, key: string): void {
  const state = bench.getState();
  const step = found(state.plan, id);
  const spec = infoOf(state, step).settings.find((s) => s.key === key);
  changeSetting(bench, id, key, step.measured ? step.measured[key] : spec?.default);
}

export function changeSetting(bench: Bench, id: string, key: string, value: unknown): void {
  const state = bench.getState();
  const step = found(state.plan, id);
  if (step.settings[key] === value) {
    bench.setState({ draft: undefined });
    return;
  }
  const info = infoOf(state, step);
  const spec = info.settings.find((s) => s.key === key);
  const words = `${info.name}: ${spec?.label ?? key} ${shownValue(spec, value)}`;
  commit(bench, words, withStep(state.plan, id, { settings: { ...step.settings, [key]: value } }));
}

/** Several settings of a step at once. @param words for the history. */
export function changeSettings(bench: Bench, id: string, settings: Record<string, unknown>, words: string): void {
  const { plan } = bench.getState();
  commit(bench, `${nameOf(bench, id)}: ${words}`, withStep(plan, id, { settings: { ...found(plan, id).settings, ...settings } }));
}

/** The mask of a step or a branch. */
export const maskOf = (plan: Plan, id: string | undefined): Mask | undefined => stepOf(plan, id)?.mask ?? branchOf(plan, id)?.mask;

const withMask = (plan: Plan, id: string, mask: Mask | undefined): Plan => withBranch(withStep(plan, id, { mask }), id, { mask });

/** A mask while it is being dragged. */
export function previewMask(bench: Bench, id: string, mask: Mask): void {
  bench.setState({ draft: withMask(bench.getState().plan, id, mask) });
}

/** Another mask of a step or a branch, or none. */
export function changeMask(bench: Bench, id: string, mask: Mask | undefined, words: string): void {
  commit(bench, `${nameOf(bench, id)}: ${words}`, withMask(bench.getState().plan, id, mask));
}

/** Holds a step or a branch to a stretch of the source's running time, or lets it work all the time. */
export function changeSpan(bench: Bench, id: string, span: Span | undefined): void {
  const words = span ? `frames ${span.first} to ${span.last}` : 'all the time';
  commit(bench, `${nameOf(bench, id)}: ${words}`, withBranch(withStep(bench.getState().plan, id, { span }), id, { span }));
}

/** Takes a step back to what was measured, or to the defaults when nothing was. */
export function returnToMeasured(bench: Bench, id: string): void {
  const state = bench.getState();
  const step = found(state.plan, id);
  const defaults = Object.fromEntries(infoOf(state, step).settings.map((s) => [s.key, s.default]));
  commit(bench, `${nameOf(bench, id)}: reset to measured`, withStep(state.plan, id, { settings: step.measured ?? defaults }));
}

/** Switches a step, a fork or a branch. */
export function switchEntry(bench: Bench, id: string): void {
  const { plan } = bench.getState();
  const isOn = [...allSteps(plan), ...allForks(plan), ...allForks(plan).flatMap((f) => f.branches)].find((e) => e.id === id)?.on;
  const on = !isOn;
  const forks = mapForks(plan, (fork) => (fork.id === id ? { ...fork, on } : fork));
  commit(bench, `${nameOf(bench, id)} ${on ? 'on' : 'off'}`, withBranch(withStep(forks, id, { on }), id, { on }));
}

/** Everything in an entry, itself included. */
const within = (entry: PlanEntry): string[] =>
  isFork(entry) ? [entry.id, ...entry.branches.flatMap((b) => [b.id, ...b.steps.flatMap(within)])] : [entry.id];

/**
 * Moves an entry to the place of another, into a branch where that one lies in it; moved onto a branch's name, to the branch's start.
 */
export function moveEntry(bench: Bench, id: string, overId: string): void {
  const { plan } = bench.getState();
  const entry = [...allSteps(plan), ...allForks(plan)].find((e) => e.id === id);
  if (!entry || id === overId || within(entry).includes(overId)) return;
  const onto = branchOf(plan, overId);
  let place = 0,
    moved = false;
  const next = mapLists(plan, (entries, branch) => {
    const from = entries.findIndex((e) => e.id === id),
      to = entries.findIndex((e) => e.id === overId);
    const without = entries.filter((e) => e.id !== id);
    const here = to >= 0 || (onto !== undefined && branch?.id === overId);
    if (!here) return without;
    moved = true;
    // Moved downwards it takes the place of the one it was put on, moved upwards or in from elsewhere it comes before it.
    const at = to < 0 ? 0 : from >= 0 && from < to ? to : without.findIndex((e) => e.id === overId);
    place = at + 1;
    return without.toSpliced(at, 0, entry);
  });
  if (moved) commit(bench, `${nameOf(bench, id)} moved to place ${place}`, next);
}

/** Removes a step, a fork or a branch with all that is in it; a fork whose last branch goes, goes with it. */
export function removeEntry(bench: Bench, id: string): void {
  const { plan } = bench.getState();
  const thinned = mapForks(plan, (fork) => ({ ...fork, branches: fork.branches.filter((b) => b.id !== id) }));
  const next = mapLists(thinned, (entries) => entries.filter((e) => e.id !== id && !(isFork(e) && e.branches.length === 0)));
  commit(bench, `${nameOf(bench, id)} removed`, next);
}

/** A copy of an entry, and of all within it, under new ids. */
const copied = (entry: PlanEntry): PlanEntry =>
  isFork(entry)
    ? {
        ...entry,
        id: crypto.randomUUID(),
        branches: entry.branches.map((b) => ({ ...b, id: crypto.randomUUID(), steps: b.steps.map(copied) })),
      }
    : { ...entry, id: crypto.randomUUID() };

const insertedAfter = (plan: Plan, id: string, entry: PlanEntry): Plan =>
  mapLists(plan, (entries) => {
    const at = entries.findIndex((e) => e.id === id);
    return at < 0 ? entries : entries.toSpliced(at + 1, 0, entry);
  });

/** Puts a copy of a step right after it. */
export function duplicateStep(bench: Bench, id: string): void {
  const { plan } = bench.getState();
  const copy = copied(found(plan, id));
  commit(bench, `${nameOf(bench, id)}: duplicated`, insertedAfter(plan, id, copy));
  bench.setState({ opened: copy.id });
}

const newBranch = (name: string, steps: PlanEntry[]): Branch => ({ id: crypto.randomUUID(), name, on: true, opacity: 100, steps });

/** Makes two ways of a step: a fork with the step in one branch, and a copy of it in another that lies over it. */
export function forkStep(bench: Bench, id: string): void {
  const { plan } = bench.getState();
  const step = found(plan, id);
  const over = newBranch('second way', [copied(step)]);
  const fork: Fork = { id: crypto.randomUUID(), on: true, branches: [newBranch('first way', [step]), over] };
  const next = mapLists(plan, (entries) => entries.map((e) => (e.id === id ? fork : e)));
  commit(bench, `${nameOf(bench, id)}: forked`, next);
  bench.setState({ opened: over.id });
}

/** Adds a branch to a fork, over the others; a copy of one of them where it is named. */
export function addBranch(bench: Bench, forkId: string, like?: string): void {
  const { plan } = bench.getState();
  const model = branchOf(plan, like);
  const made = newBranch(model ? `${model.name}, again` : 'another way', model ? model.steps.map(copied) : []);
  const next = mapForks(plan, (fork) => (fork.id === forkId ? { ...fork, branches: [...fork.branches, made] } : fork));
  commit(bench, `Fork: branch added`, next);
  bench.setState({ opened: made.id });
}

export function renameBranch(bench: Bench, id: string, name: string): void {
  const trimmed = name.trim().slice(0, 80);
  const { plan } = bench.getState();
  if (trimmed && trimmed !== branchOf(plan, id)?.name) commit(bench, `Branch renamed ${trimmed}`, withBranch(plan, id, { name: trimmed }));
}

/** How far a branch covers what lies below, in percent; while it is dragged it is only seen. */
export function changeOpacity(bench: Bench, id: string, opacity: number, dragged = false): void {
  const next = withBranch(bench.getState().plan, id, { opacity });
  if (dragged) bench.setState({ draft: next });
  else commit(bench, `${nameOf(bench, id)}: opacity ${opacity} %`, next);
}

/** Lays a branch over one more of the others, or one less. */
export function moveBranch(bench: Bench, id: string, by: 1 | -1): void {
  const next = mapForks(bench.getState().plan, (fork) => {
    const at = fork.branches.findIndex((b) => b.id === id);
    const to = at + by;
    if (at < 0 || to < 0 || to >= fork.branches.length) return fork;
    return { ...fork, branches: fork.branches.with(at, fork.branches[to]).with(to, fork.branches[at]) };
  });
  commit(bench, `${nameOf(bench, id)} ${by > 0 ? 'raised' : 'lowered'}`, next);
}

/** Takes a strip's candidate into the plan, and marks it in the strip. */
export async function takeCandidate(bench: Bench, strip: Strip, candidate: number): Promise<void> {
  commit(
    bench,
    `${strip.about}, ${strip.candidates[candidate].label} from a test strip`,
    planWith(bench.getState().plan, strip, candidate),
  );
  try {
    const kept = await api<Strip>(`items/${strip.itemId}/strips/${strip.id}`, {
      method: 'PATCH',
      json: { chosen: candidate } satisfies StripUpdateRequest,
    });
    if (bench.getState().strip?.id === strip.id) bench.setState({ strip: kept });
  } catch (error) {
    toast.error(`The strip does not know what was taken: ${(error as Error).message}`);
  }
}

/** Hand work of a step. */
export function changeMarks(bench: Bench, id: string, marks: string, words: string): void {
  commit(bench, `${nameOf(bench, id)}: ${words}`, withStep(bench.getState().plan, id, { marks }));
}

/** The first step of a treatment that is on; a new one in its natural place where there is none. @returns its id. */
export function stepFor(bench: Bench, treatment: string): string | undefined {
  const { plan, treatments } = bench.getState();
  const there = allSteps(plan).find((s) => s.on && s.treatment === treatment);
  if (there) return there.id;
  const info = treatments.find((t) => t.id === treatment);
  if (!info) return undefined;
  const step = newStep(info);
  commit(bench, `${info.name} added`, { ...plan, steps: inItsPlace(plan.steps, step, treatments) });
  return step.id;
}

/** Entries with a step more: before the first of a treatment that naturally comes later; forks keep what follows them. */
function inItsPlace(entries: PlanEntry[], step: PlanStep, treatments: TreatmentInfo[]): PlanEntry[] {
  const order = treatments.map((t) => t.id);
  const at = entries.findIndex((entry) => !isFork(entry) && order.indexOf(entry.treatment) > order.indexOf(step.treatment));
  return entries.toSpliced(at < 0 ? entries.length : at, 0, step);
}

const newStep = (info: TreatmentInfo): PlanStep => ({
  id: crypto.randomUUID(),
  treatment: info.id,
  on: true,
  settings: Object.fromEntries(info.settings.map((s) => [s.key, s.default])),
});

/** Adds a treatment in its natural place of the ladder, or of a branch, open and switched on. */
export function addStep(bench: Bench, treatment: string, branchId?: string): void {
  const { plan, treatments } = bench.getState();
  const info = treatments.find((t) => t.id === treatment);
  if (!info) return;
  const step = newStep(info);
  const next = mapLists(plan, (entries, branch) => (branch?.id === branchId ? inItsPlace(entries, step, treatments) : entries));
  commit(bench, `${info.name} added`, next);
  bench.setState({ opened: step.id });
}

/** Adds a treatment after all others, with settings of its own. */
export function addLast(bench: Bench, treatment: string, settings: Record<string, unknown>, words: string): void {
  const { plan, treatments } = bench.getState();
  const info = treatments.find((t) => t.id === treatment);
  if (!info) return;
  const step = newStep(info);
  const whole = { ...step, settings: { ...step.settings, ...settings } };
  commit(bench, `${info.name} added: ${words}`, { ...plan, steps: [...plan.steps, whole] });
}
