import { background } from '../treatments/background/background';
import { mapSteps, stepsOn, type Plan } from '../../shared/plan';

const drops = (step: { treatment: string; settings: Record<string, unknown> }): boolean =>
  step.treatment === background.id && step.settings.way === 'drop';

/**
 * A plan that drops a background, over black and over white: what differs between the two results is what can be seen through (Smith and Blinn,
 * Blue screen matting, 1996), whatever steps come after.
 *
 * @returns undefined where nothing is dropped.
 */
export function overBlackAndWhite(plan: Plan): { black: Plan; white: Plan } | undefined {
  if (!stepsOn(plan).some(drops)) return undefined;
  const over = (colour: string): Plan =>
    mapSteps(plan, (step) => (drops(step) ? { ...step, settings: { ...step.settings, way: 'colour', colour } } : step));
  return { black: over('#000000000000'), white: over('#ffffffffffff') };
}
