import { createContext, useContext } from 'react';
import { createStore, useStore, type StoreApi } from 'zustand';
import type { Item, Strip, TreatmentInfo, PlanDescription, ItemAnswer, ProofReport } from '../../../archive';
import type { StreamInfo } from '../../../core';
import type { StrokeUse } from '../../../shared/marks';
import { allForks, soloed, stepsOn, type Plan, type PlanStep } from '../../../shared/plan';
import type { View } from '../picture/geometry';
import { historyFrom, type History } from './history';

export type CompareMode = 'split' | 'pair' | 'single' | 'difference' | 'flicker';
/** How the split line runs. */
export type SplitWay = 'upright' | 'level';

export interface FrameRange {
  first: number;
  last: number;
}

/** How strokes on a painted mask are laid. */
export interface Brush {
  /** Diameter as a share of the source's height. */
  size: number;
  /** Share of the radius in which it fades out, and how much each touch covers, in percent. */
  softness: number;
  flow: number;
  mode: 'add' | 'erase';
  /** Step or branch, and the part of its mask, that is painted. */
  owner: string;
  part: number;
}

/** How strokes of hand work are made. */
export interface Hand {
  /** Step they belong to. */
  owner: string;
  use: StrokeUse;
  /** Diameter as a share of the source's height. */
  size: number;
  /** Share of the radius in which it fades out, in percent. */
  softness: number;
  /** What is marked with, where that is a colour. */
  colour: string;
}

/** A brush to begin with. */
export const FIRST_HAND: Pick<Hand, 'size' | 'softness' | 'colour'> = { size: 0.02, softness: 40, colour: '#cfcfa2a28787' };

export type FoundShown = NonNullable<ProofReport['found']>;

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
  /** The source is played with its sound, from the frame in view on. */
  watching: boolean;
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
  /** Step, fork or branch whose settings are open. */
  opened: string | undefined;
  /** Step, fork or branch after which the picture is looked at; the whole plan when undefined. */
  lookAfter: string | undefined;
  /** Branch that is looked at as if there were no other at its fork. */
  solo: string | undefined;
  /** The brush, while masks are painted. */
  brush: Brush | undefined;
  /** How strokes are made, while places are marked by hand. */
  hand: Hand | undefined;
  /** Step whose line is drawn over the picture. */
  lining: string | undefined;
  /** Setting whose corners are dragged on the picture that its step reads. */
  cornering: { owner: string; key: string } | undefined;
  /** Setting that takes a colour of the picture, or a face by its eyes, the first of which may be named already. */
  picking: { owner: string; key: string; face?: true; eye?: { u: number; v: number } } | undefined;
  /** Stroke whose handles are shown. */
  chosen: string | undefined;
  /** What the open step takes for faults is shown instead of the result. */
  finding: boolean;
  /** What it takes for faults in the part in view. */
  faults: FoundShown | undefined;
  /** What steps wait for that are left out of the picture meanwhile, in words, by the step. */
  awaited: Record<string, string>;
  /** Milliseconds each step last took, reckoned for a whole frame. */
  costs: Record<string, number>;
  /** Something that is to be seen is not there yet. */
  waiting: boolean;
  /** Frame of which the source's picture is there. */
  sourceAt: number | undefined;
  /** The picture was there once: what is less urgent may begin. */
  settled: boolean;
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
    watching: false,
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
    solo: undefined,
    brush: undefined,
    hand: undefined,
    lining: undefined,
    picking: undefined,
    cornering: undefined,
    chosen: undefined,
    finding: false,
    faults: undefined,
    awaited: {},
    costs: {},
    // Until the viewer says otherwise.
    waiting: true,
    settled: false,
    sourceAt: undefined,
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

/** The plan as it stands, with what is being dragged. */
export const livePlan = (state: BenchState): Plan => state.draft ?? state.plan;

/** Plans with one branch alone, so that the same plan gives the same object. */
const alone = new WeakMap<Plan, { branch: string; plan: Plan }>();

/** The plan as it is to be seen now: with one branch alone while it is looked at so. */
export function seenPlan(state: BenchState): Plan {
  const plan = livePlan(state);
  if (!state.solo) return plan;
  const known = alone.get(plan);
  if (known?.branch === state.solo) return known.plan;
  const made = soloed(plan, state.solo);
  alone.set(plan, { branch: state.solo, plan: made });
  return made;
}

/** Id of what is looked at in place of the plan's output; undefined where it is gone or off. */
export function lookedNode(state: BenchState): string | undefined {
  const { lookAfter } = state;
  if (lookAfter === undefined) return undefined;
  const plan = seenPlan(state);
  const there =
    stepsOn(plan).some((s) => s.id === lookAfter) ||
    allForks(plan).some((f) => f.on && (f.id === lookAfter || f.branches.some((b) => b.on && b.id === lookAfter)));
  return there ? lookAfter : undefined;
}

/** Id of the step whose faults are shown; undefined where none is, or it shows none. */
export function findingStep(state: BenchState): string | undefined {
  const step = state.finding ? stepsOn(seenPlan(state)).find((s) => s.id === state.opened) : undefined;
  return step && infoOf(state, step).finds ? step.id : undefined;
}

export const infoOf = (state: BenchState, step: PlanStep): TreatmentInfo =>
  state.treatments.find((t) => t.id === step.treatment) as TreatmentInfo;
