import { layOut } from '../graph/layout';
import type { StreamInfo } from '../picture/picture';
import { type Plan, stepsOn } from '../../shared/plan';
import { readyStep } from './plan';

/** What a plan does to a source, a line for each step that is on: for records and metadata. */
export function whatIsDone(plan: Plan, source: StreamInfo): string[] {
  const { nodes } = layOut(plan, source);
  return stepsOn(plan).map((step) => {
    const { treatment, settings } = readyStep(step);
    const input = nodes.get(step.id)?.inputs[0]?.stream ?? source;
    const where = [step.mask && 'in a part of the picture', step.span && 'for a part of the time'].filter(Boolean).join(', ');
    return `${treatment.name}: ${treatment.summary(settings, input)}${where && ` (${where})`}`;
  });
}
