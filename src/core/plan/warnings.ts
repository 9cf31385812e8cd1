import type { ConditionReport } from '../condition/report';
import type { LaidNode, Layout } from '../graph/layout';
import type { GrainSettings } from '../treatments/grain/grain';
import { treatment } from '../treatments/register';
import { allSteps, stepsOn, type Plan, type PlanStep } from '../../shared/plan';

/**
 * What is wrong with a plan's order, or speaks against a step, in words; it still runs.
 *
 * @param layout of the plan; undefined where it cannot run.
 * @param report of the source, where there is one.
 */
export function planWarnings(plan: Plan, layout: Layout | undefined, report?: ConditionReport): PlanWarning[] {
  const warningsOf = (step: PlanStep): PlanWarning[] => {
    const node = layout?.nodes.get(step.id);
    return [
      ...versionWarning(step),
      ...colourWarning(step, report),
      ...(node ? [...orderWarnings(step, node), ...liftWarnings(step, node, plan)] : []),
    ];
  };
  return stepsOn(plan).flatMap(warningsOf);
}

export interface PlanWarning {
  step: string;
  text: string;
}

/** Times as strong from which on lifted noise is told of, and the deviation it must reach, in codes of 255. */
const LIFTED = 1.4,
  SEEN = 2;

/** Colours that are there are not covered unasked. */
function colourWarning({ id, treatment: kind, settings }: PlanStep, report: ConditionReport | undefined): PlanWarning[] {
  if (kind !== 'colourise' || settings.over === true || !report || report.measurements.monochrome) return [];
  const text =
    'The condition report reads colours in this picture. What is more than one tone stays as it is unless “Over its own colours” is on.';
  return [{ step: id, text }];
}

/** What becomes of grain in the dark parts that a step makes lighter: told at Grain before it, or at the step where Grain is off. */
function liftWarnings(step: PlanStep, node: LaidNode, plan: Plan): PlanWarning[] {
  if (node.work.kind !== 'step') return [];
  const [input] = node.inputs;
  const by = node.work.step.treatment.lifts?.(node.work.step.settings, input.stream) ?? 1;
  const before = grainOf(input) ?? allSteps(plan).find((other) => other.treatment === 'grain' && !other.on);
  if (by < LIFTED || !before) return [];
  const { luma, keep } = before.settings as Partial<GrainSettings>;
  const seen = (luma ?? 0) * by;
  if (seen < SEEN) return [];
  const name = treatment(step.treatment)?.name ?? step.treatment;
  const told = `${name} makes dark parts lighter, and grain of ${(luma ?? 0).toFixed(1)} there as strong as ${seen.toFixed(1)}.`;
  if (!before.on) return [{ step: step.id, text: `${told} Grain is off.` }];
  if (keep === undefined || keep === 0) return [];
  return [{ step: before.id, text: `${told} Keep ${Math.floor(keep / by)} % leaves what ${keep} % would have left.` }];
}

/** The last Grain that worked on what a node gives. */
function grainOf({ work, inputs }: LaidNode): (PlanStep & { on: true }) | undefined {
  if (work.kind === 'step' && work.step.treatment.id === 'grain')
    return { id: work.step.id, treatment: 'grain', on: true, settings: { ...work.step.settings } };
  return inputs.map(grainOf).find((found) => found !== undefined);
}

function versionWarning(step: PlanStep): PlanWarning[] {
  const kind = treatment(step.treatment);
  if (!kind || step.version === undefined || step.version === kind.version) return [];
  const text = `Version ${kind.version} now, looked at in version ${step.version}: look again.`;
  return [{ step: step.id, text }];
}

function orderWarnings(step: PlanStep, node: LaidNode): PlanWarning[] {
  const kind = treatment(step.treatment);
  const [input] = node.inputs;
  if (!kind || !input) return [];
  const texts = (kind.order ?? []).filter(({ after }) => comesAfter(input, after)).map(({ text }) => text);
  if (input.stream.fieldOrder !== 'progressive' && !kind.fields)
    texts.unshift('The frames are still interlaced here: combs get into the result. Put Deinterlace first.');
  return texts.map((text) => ({ step: step.id, text }));
}

/** Whether a treatment worked on what a node gives. */
const comesAfter = ({ work, inputs }: LaidNode, id: string): boolean =>
  (work.kind === 'step' && work.step.treatment.id === id) || inputs.some((input) => comesAfter(input, id));
