import type { LaidNode, Layout } from '../graph/layout';
import { treatment } from '../treatments/register';
import { stepsOn, type Plan, type PlanStep } from '../../shared/plan';

/** What is wrong with a plan's order, in words; it still runs. @param layout of the plan; undefined where it cannot run. */
export function planWarnings(plan: Plan, layout: Layout | undefined): { step: string; text: string }[] {
  return stepsOn(plan).flatMap((step) => [...versionWarning(step), ...(layout ? orderWarnings(step, layout.nodes.get(step.id)) : [])]);
}

function versionWarning(step: PlanStep): { step: string; text: string }[] {
  const kind = treatment(step.treatment);
  if (!kind || step.version === undefined || step.version === kind.version) return [];
  const text = `Version ${kind.version} now, looked at in version ${step.version}: what it makes may differ.`;
  return [{ step: step.id, text }];
}

function orderWarnings(step: PlanStep, node: LaidNode | undefined): { step: string; text: string }[] {
  const kind = treatment(step.treatment);
  const [input] = node?.inputs ?? [];
  if (!kind || !input) return [];
  const texts = (kind.order ?? []).filter(({ after }) => comesAfter(input, after)).map(({ text }) => text);
  if (input.stream.fieldOrder !== 'progressive' && !kind.fields)
    texts.unshift('The frames are still interlaced here: combs get into the result. Put Deinterlace first.');
  return texts.map((text) => ({ step: step.id, text }));
}

/** Whether a treatment worked on what a node gives. */
const comesAfter = ({ work, inputs }: LaidNode, id: string): boolean =>
  (work.kind === 'step' && work.step.treatment.id === id) || inputs.some((input) => comesAfter(input, id));
