import type { Mask } from './masks/mask';

/** What a plan is, and ways through it. */

/** One treatment in a plan. */
export interface PlanStep {
  /** Names the step within its plan, so that it can be followed while it moves. */
  id: string;
  treatment: string;
  /** Version of the treatment it was made with; plans from before there were versions have none. */
  version?: number;
  on: boolean;
  settings: Record<string, unknown>;
  /** Settings as the condition report proposed them; what differs was changed by hand. */
  measured?: Record<string, unknown>;
  /** Where it works, in the source; everywhere when left out. */
  mask?: Mask;
  /** When it works; all the time when left out. */
  span?: Span;
  /** Hand work it reads, by the SHA-256 of its document. */
  marks?: string;
}

/** A stretch of running time, in frames of the source, both ends included. */
export interface Span {
  first: number;
  last: number;
}

/** One of several ways a picture is treated. */
export interface Branch {
  /** Names the branch within its plan. */
  id: string;
  name: string;
  on: boolean;
  /** How far it covers what lies below, in percent. */
  opacity: number;
  /** Where it is seen, in the source; everywhere when left out. */
  mask?: Mask;
  /** When it is seen; all the time when left out. */
  span?: Span;
  steps: PlanEntry[];
}

/** Where a plan parts: each branch treats the same picture, and is laid over the ones before it. What no branch covers is the picture itself. */
export interface Fork {
  id: string;
  on: boolean;
  branches: Branch[];
}

export type PlanEntry = PlanStep | Fork;

export const isFork = (entry: PlanEntry): entry is Fork => 'branches' in entry;

/** The ordered treatments of an item. */
export interface Plan {
  format: 'wairetic-plan';
  /** 2: masks lie in the source, and plans may fork. */
  version: 2;
  steps: PlanEntry[];
}

/** A plan without forks. */
export type PlainPlan = Omit<Plan, 'steps'> & { steps: PlanStep[] };

export const emptyPlan = (steps: PlanEntry[] = []): Plan => ({ format: 'wairetic-plan', version: 2, steps });

/** Every step of a plan, those of branches in their place. */
export const allSteps = (plan: { steps: PlanEntry[] }): PlanStep[] =>
  plan.steps.flatMap((entry) => (isFork(entry) ? entry.branches.flatMap(allSteps) : [entry]));

/** Every fork of a plan, the outer before the inner. */
export const allForks = (plan: { steps: PlanEntry[] }): Fork[] =>
  plan.steps.flatMap((entry) => (isFork(entry) ? [entry, ...entry.branches.flatMap(allForks)] : []));

/** Steps that are switched on, in branches that are. */
export const stepsOn = (plan: { steps: PlanEntry[] }): PlanStep[] =>
  plan.steps
    .filter((entry) => entry.on)
    .flatMap((entry) => (isFork(entry) ? entry.branches.filter((b) => b.on).flatMap(stepsOn) : [entry]));

export const stepOf = (plan: { steps: PlanEntry[] }, id: string | undefined): PlanStep | undefined =>
  allSteps(plan).find((s) => s.id === id);

/** The lists of entries of a plan and its branches are changed, the innermost first. */
export function mapLists(plan: Plan, change: (entries: PlanEntry[], branch: Branch | undefined) => PlanEntry[]): Plan {
  const walked = (entries: PlanEntry[], branch?: Branch): PlanEntry[] =>
    change(
      entries.map((entry) =>
        isFork(entry) ? { ...entry, branches: entry.branches.map((b) => ({ ...b, steps: walked(b.steps, b) })) } : entry,
      ),
      branch,
    );
  return { ...plan, steps: walked(plan.steps) };
}

/** The plan with every step changed, those of branches too. */
export const mapSteps = (plan: Plan, change: (step: PlanStep) => PlanStep): Plan =>
  mapLists(plan, (entries) => entries.map((entry) => (isFork(entry) ? entry : change(entry))));

/** The plan with every fork changed. */
export const mapForks = (plan: Plan, change: (fork: Fork) => Fork): Plan =>
  mapLists(plan, (entries) => entries.map((entry) => (isFork(entry) ? change(entry) : entry)));

/** The plan as if one branch were all there is at its fork; the plan itself where there is no such branch. */
export const soloed = (plan: Plan, branch: string): Plan =>
  mapForks(plan, (fork) =>
    fork.branches.some((b) => b.id === branch)
      ? {
          ...fork,
          on: true,
          branches: fork.branches.map(({ mask, span, ...b }) =>
            b.id === branch ? { ...b, on: true, opacity: 100 } : { ...b, mask, span, on: false },
          ),
        }
      : fork,
  );
