import { createContext, useContext } from 'react';
import { temporal, type TemporalState } from 'zundo';
import { createStore, useStore, type StoreApi } from 'zustand';
import type { Item } from '../../archive/types';
import type { StreamInfo } from '../../core/picture/picture';
import type { Plan, PlanStep } from '../../core/plan/plan';
import type { ItemAnswer, PlanDescription, TreatmentInfo } from '../parts/api';
import type { View } from './geometry';

export type CompareMode = 'split' | 'pair' | 'single';

export interface FrameRange {
  first: number;
  last: number;
}

/** Everything the bench of one item shows. Only `plan` and what changed it can be undone. */
export interface BenchState {
  item: Item;
  treatments: TreatmentInfo[];
  plan: Plan;
  /** What the last change did, in words. */
  change: string;
  /** The plan while a slider is being dragged. */
  draft: Plan | undefined;
  description: PlanDescription;
  version: number;
  /** Stream after the whole plan, as last heard. */
  output: StreamInfo;
  /** Frame of the output. */
  frame: number;
  range: FrameRange | undefined;
  playing: -1 | 0 | 1;
  view: View;
  mode: CompareMode;
  /** Where the split line stands, as a share of the canvas. */
  split: number;
  loupe: { u: number; v: number };
  /** The source is held up instead of the result. */
  holding: boolean;
  /** The evidence map is shown instead of the result. */
  evidence: boolean;
  /** Step whose settings are open. */
  opened: string | undefined;
  /** Step after which the picture is looked at; the whole plan when nothing. */
  lookAfter: string | undefined;
  /** Milliseconds each step last took. */
  costs: Record<string, number>;
  /** Milliseconds from the wish to the picture, last time. */
  proofTime: number | undefined;
  problem: string | undefined;
}

type Undoable = Pick<BenchState, 'plan' | 'change'>;
export type Bench = StoreApi<BenchState> & { temporal: StoreApi<TemporalState<Undoable>> };

/** Steps that can be undone. */
const UNDO_STEPS = 500;

export function createBench(answer: ItemAnswer & Required<Pick<ItemAnswer, 'plan' | 'description'>>): Bench {
  const { item, plan, description, treatments } = answer;
  return createStore<BenchState>()(
    temporal(
      (): BenchState => ({
        item,
        treatments,
        plan: plan.plan,
        change: plan.change,
        draft: undefined,
        description,
        version: plan.version,
        output: description.output,
        frame: Math.floor(description.output.frames / 2),
        range: undefined,
        playing: 0,
        view: { zoom: 'fit', u: 0.5, v: 0.5 },
        mode: 'split',
        split: 0.5,
        loupe: { u: 0.5, v: 0.4 },
        holding: false,
        evidence: false,
        opened: undefined,
        lookAfter: undefined,
        costs: {},
        proofTime: undefined,
        problem: undefined,
      }),
      { limit: UNDO_STEPS, partialize: ({ plan, change }) => ({ plan, change }), equality: (a, b) => a.plan === b.plan },
    ),
  );
}

export const BenchContext = createContext<Bench | undefined>(undefined);

export function useBenchStore(): Bench {
  const bench = useContext(BenchContext);
  if (!bench) throw new Error('outside of a bench');
  return bench;
}

export function useBench<T>(select: (state: BenchState) => T): T {
  return useStore(useBenchStore(), select);
}

/** The plan as it is to be seen now. */
export const livePlan = (state: BenchState): Plan => state.draft ?? state.plan;

/** How many of the switched-on steps are applied to what is looked at; nothing for all. */
export function lookedSteps(state: BenchState): number | undefined {
  const on = livePlan(state).steps.filter((s) => s.on);
  const index = on.findIndex((s) => s.id === state.lookAfter);
  return index < 0 ? undefined : index + 1;
}

export const infoOf = (state: BenchState, step: PlanStep): TreatmentInfo =>
  state.treatments.find((t) => t.id === step.treatment) as TreatmentInfo;
