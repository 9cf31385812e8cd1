import { mapSteps, stepsOn, type Plan } from '../../shared/plan';
import { colourise } from '../treatments/colourise/colourise';

const adds = (step: { treatment: string; settings: Record<string, unknown> }): boolean =>
  step.treatment === colourise.id && step.settings.amount !== 0;

/** A plan without the colours that it adds, which are no evidence; undefined where it adds none. */
export function monochromePlan(plan: Plan): Plan | undefined {
  if (!stepsOn(plan).some(adds)) return undefined;
  return mapSteps(plan, (step) => (adds(step) ? { ...step, on: false } : step));
}
