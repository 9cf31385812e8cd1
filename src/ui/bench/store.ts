import { createContext, useContext } from 'react';
import { createStore, useStore, type StoreApi } from 'zustand';
import type { Item, Strip } from '../../archive/types';
import type { StreamInfo } from '../../core/picture/picture';
import type { Plan, PlanStep } from '../../core/plan/plan';
import type { ItemAnswer, PlanDescription, TreatmentInfo } from '../parts/api';
import type { View } from './geometry';
import { historyFrom, type History } from './history';

export type CompareMode = 'split' | 'pair' | 'single' | 'difference' | 'flicker';
/** How the split line runs. */
export type SplitWay = 'upright' | 'level';

export interface FrameRange {
  first: number;
  last: number;
}

/** Everything the bench of one item shows. */
export interface BenchState {
  item: Item;
  treatments: TreatmentInfo[];
  plan: Plan;
  history: History;
  /** The plan while a slider is being dragged. */
  draft: Plan | undefined;
  description: PlanDescription;
  /** Stream after the whole plan, as last told. */
  output: StreamInfo;
  /** Frame of the output. */
  frame: number;
  range: FrameRange | undefined;
  playing: -1 | 0 | 1;
  view: View;
  mode: CompareMode;
  /** Where the split line stands, as a share of the canvas. */
  split: number;
  way: SplitWay;
  /** Times a difference is amplified. */
  gain: number;
  /** Changes a second of flicker. */
  flickerRate: number;
  /** Version of the plan that is looked at instead of the source. */
  against: string | undefined;
  loupe: { u: number; v: number };
  /** The source is held up instead of the result. */
  holding: boolean;
  /** The evidence map is shown instead of the result. */
  evidence: boolean;
  /** Step whose settings are open. */
  opened: string | undefined;
  /** Step after which the picture is looked at; the whole plan when nothing. */
  lookAfter: string | undefined;
  /** Milliseconds each step last took, reckoned for a whole frame. */
  costs: Record<string, number>;
  /** Milliseconds from the query to the picture, last time. */
  proofTime: number | undefined;
  /** Milliseconds to the first part of it. */
  firstTime: number | undefined;
  problem: string | undefined;
  /** The test strip that is open. */
  strip: Strip | undefined;
}

export type Bench = StoreApi<BenchState>;

export function createBench(answer: ItemAnswer & Required<Pick<ItemAnswer, 'plan' | 'description'>>): Bench {
  const { item, plan, history, description, treatments } = answer;
  return createStore<BenchState>()((): BenchState => ({
    item,
    treatments,
    plan: plan.plan,
    history: historyFrom(history),
    draft: undefined,
    description,
    output: description.output,
    frame: Math.floor(description.output.frames / 2),
    range: undefined,
    playing: 0,
    view: { zoom: 'fit', u: 0.5, v: 0.5 },
    mode: 'split',
    split: 0.5,
    way: 'upright',
    gain: 8,
    flickerRate: 2,
    against: undefined,
    loupe: { u: 0.5, v: 0.4 },
    holding: false,
    evidence: false,
    opened: undefined,
    lookAfter: undefined,
    costs: {},
    proofTime: undefined,
    firstTime: undefined,
    problem: undefined,
    strip: undefined,
  }));
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
