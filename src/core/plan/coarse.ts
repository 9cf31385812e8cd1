import { isFork, type Plan, type PlanStep } from '../../shared/plan';
import { readyStep } from './plan';

/**
 * A plan that makes nearly the same of a picture reduced by a whole number: a first look, since what is fine is left out.
 * @returns undefined where a step has no such look, or where hand work, masks or forks would lie elsewhere in the smaller picture.
 */
export function coarsePlan(plan: Plan, by: number): Plan | undefined {
  const steps: PlanStep[] = [];
  for (const entry of plan.steps) {
    if (!entry.on) continue;
    if (isFork(entry)) return undefined;
    const { treatment, settings } = readyStep(entry);
    const coarse = treatment.coarse?.(settings, by);
    if (coarse === undefined) return undefined;
    if (coarse === 'leave') continue;
    if (entry.mask ?? entry.span ?? entry.marks) return undefined;
    steps.push({ ...entry, settings: { ...coarse } });
  }
  return { ...plan, steps };
}
