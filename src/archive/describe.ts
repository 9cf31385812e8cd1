import type { Item } from './types';
import { measuredStream } from './items';
import {
  layOut,
  type Layout,
  networkCard,
  type Pace,
  placeBetween,
  planWarnings,
  predictedSeconds,
  type SettingSpec,
  settingSpecs,
  type StreamInfo,
  type Treatment,
  treatment,
  TREATMENTS,
  wholeRegion,
} from '../core';
import { SAME_PLACE, type Place, type Projective } from '../shared/maps/place';
import { sameTime, type TimeMap } from '../shared/maps/time';
import type { Mask, ShapeKind } from '../shared/masks/mask';
import { emptyPlan, isFork, type Branch, type Fork, type Plan, type PlanEntry, type PlanStep, type Span } from '../shared/plan';

/** A treatment as the interface needs it. */
export interface TreatmentInfo {
  id: string;
  name: string;
  answers: string;
  settings: SettingSpec[];
  /** Whether a mask can hold it to a part of the picture. */
  masks: boolean;
  /** Kind of hand work it takes. */
  marks?: string;
  /** Settings that a line drawn over the picture says. */
  line?: Treatment['line'];
  /** Setting that a line drawn along what should be level says. */
  level?: string;
  /** Settings that say where a picture is laid. */
  placing?: Record<keyof NonNullable<Treatment['placing']>, string>;
  /** Whether it shows what it takes for faults. */
  finds: boolean;
}

export function treatmentInfos(): TreatmentInfo[] {
  return TREATMENTS.map((t) => ({
    id: t.id,
    name: t.name,
    answers: t.answers,
    settings: settingSpecs(t.settings),
    masks: t.inPlace === true,
    ...(t.marks && { marks: t.marks }),
    ...(t.line && { line: t.line }),
    ...(t.level !== undefined && { level: t.level }),
    ...(t.placing && { placing: t.placing }),
    finds: t.found !== undefined,
  }));
}

export interface StepDescription {
  id: string;
  summary: string;
  problem?: string;
  warning?: string;
  /** Expected seconds a frame, by quality, where the treatment offers a choice and this machine's pace is known. */
  seconds?: Record<string, number>;
  /** Where the frame the step reads lies in the plan's output, in fractions of it; when the plan runs. */
  place?: Place;
}

/** What each step, fork and branch of a plan makes of an item, and what is wrong. */
export interface PlanDescription {
  steps: StepDescription[];
  /** Stream after the last step; the source's when the plan cannot run. */
  output: StreamInfo;
  source: StreamInfo;
  /** When the output's frames were seen in the source. */
  time: TimeMap;
  /** Whether the whole plan can run. */
  runs: boolean;
  /** Where the pixels of the output's first frame lie in the source. */
  geometry: Projective;
}

/**
 * @param machine how fast this machine is, when it has been measured.
 */
export function describePlan(item: Item, plan: Plan, machine?: { pace: Pace; cores: number }): PlanDescription {
  const source = measuredStream(item);
  const layout = laidOut(plan, source);
  const warnings = planWarnings(plan, layout, item.condition ?? undefined);
  const described = describeEntries(plan.steps, source, machine);
  const steps = described.steps.map((step): StepDescription => {
    const warning = warnings.find((w) => w.step === step.id)?.text;
    return { ...step, ...(warning && { warning }), ...placed(step.id, layout) };
  });
  const runs = layout !== undefined && !steps.some((s) => s.problem);
  const output = runs ? layout.output : undefined;
  return {
    steps,
    output: output?.stream ?? source,
    source,
    time: output?.time ?? sameTime(source.frames),
    runs,
    geometry: output?.geometry(0) ?? SAME_PLACE,
  };
}

function laidOut(plan: Plan, source: StreamInfo): Layout | undefined {
  try {
    return layOut(plan, source);
  } catch {
    return undefined;
  }
}

interface Described {
  steps: StepDescription[];
  info: StreamInfo;
}

/** What each entry makes of a stream, those of branches after their fork; what cannot run leaves the stream as it is. */
function describeEntries(entries: PlanEntry[], from: StreamInfo, machine: { pace: Pace; cores: number } | undefined): Described {
  let info = from;
  const steps: StepDescription[] = [];
  for (const entry of entries) {
    const made = isFork(entry) ? describeFork(entry, info, machine) : describeStep(entry, info, machine);
    steps.push(...made.steps);
    if (entry.on) info = made.info;
  }
  return { steps, info };
}

function describeFork(fork: Fork, from: StreamInfo, machine: { pace: Pace; cores: number } | undefined): Described {
  const branches = fork.branches.map((branch) => ({ branch, ...describeEntries(branch.steps, from, machine) }));
  const steps = branches.flatMap(({ branch, steps: own }) => [{ id: branch.id, summary: branchText(branch) }, ...own]);
  const on = branches.filter(({ branch }) => branch.on);
  const problem = fork.on ? problemOf(fork, from) : undefined;
  const summary = fork.on ? `${on.length} of ${branches.length} branches` : 'off';
  return { steps: [{ id: fork.id, summary, ...(problem && { problem }) }, ...steps], info: on.at(0)?.info ?? from };
}

/** Why branches cannot be laid over one another; what is wrong within them their steps say. */
function problemOf(fork: Fork, from: StreamInfo): string | undefined {
  try {
    for (const branch of fork.branches) layOut(emptyPlan(branch.on ? branch.steps : []), from);
  } catch {
    return undefined;
  }
  try {
    layOut(emptyPlan([fork]), from);
    return undefined;
  } catch (error) {
    return (error as Error).message;
  }
}

function describeStep(step: PlanStep, info: StreamInfo, machine: { pace: Pace; cores: number } | undefined): Described {
  const kind = treatment(step.treatment);
  if (!kind) return { steps: [{ id: step.id, summary: '', problem: 'unknown treatment' }], info };
  const settings = Object.assign(new kind.settings(), step.settings);
  try {
    if (!kind.suits(info)) {
      const problem = `${kind.name} does not work on this kind of picture.`;
      return { steps: [{ id: step.id, summary: 'does not apply here', ...(step.on && { problem }) }], info };
    }
    if (step.on) kind.networks?.(settings, info).forEach(networkCard);
    const summary = kind.summary(settings, info);
    const effort = (quality: string): number => kind.effort?.(Object.assign(new kind.settings(), settings, { quality }), info) ?? 1;
    const seconds = machine && predictedSeconds(machine.pace, kind.id, info, machine.cores, effort);
    const text = step.on ? `${maskText(step.mask)}${spanText(step.span)}${summary}` : 'off';
    return { steps: [{ id: step.id, summary: text, ...(seconds && { seconds }) }], info: kind.output(info, settings) };
  } catch (error) {
    if (!step.on) return { steps: [{ id: step.id, summary: 'off' }], info };
    return { steps: [{ id: step.id, summary: 'cannot run', problem: (error as Error).message }], info };
  }
}

/** Stands before the summary: that a step works in a part only must never be cut off. */
const maskText = (mask: Mask | undefined): string => (mask ? `${mask.inverse ? 'outside' : 'inside'} ${partsText(mask)}: ` : '');

const partsText = ({ parts }: Mask): string => (parts.length === 1 ? `1 ${SHAPE_WORDS[parts[0].shape.kind]}` : `${parts.length} shapes`);

const SHAPE_WORDS: Record<ShapeKind, string> = {
  oval: 'oval',
  box: 'box',
  polygon: 'polygon',
  straight: 'gradient',
  radial: 'gradient',
  painted: 'painted area',
};

const spanText = (span: Span | undefined): string => (span ? `frames ${span.first} to ${span.last}: ` : '');

const branchText = ({ mask, span, opacity, on }: Branch): string =>
  on ? `${maskText(mask)}${spanText(span)}${opacity} %${mask || span ? '' : ', everywhere'}` : 'off';

/** Where a step's frame lies in the plan's output, and in the source. */
function placed(id: string, layout: Layout | undefined): Pick<StepDescription, 'place'> {
  const input = layout?.nodes.get(id)?.inputs[0];
  if (!layout || !input) return {};
  const { stream } = layout.output;
  const { x, y, width, height } = placeBetween(input, 0, layout.output, 0, wholeRegion(input.stream));
  return { place: { x: x / stream.width, y: y / stream.height, width: width / stream.width, height: height / stream.height } };
}
