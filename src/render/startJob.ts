import { type Archive, createJob, currentPlan, findItem, type Job, measuredStream } from '../archive';
import { handsOver, type JobOptions } from '../shared/jobs';
import { layOutPrint } from '../shared/print';
import { outputStream, PlanError } from '../core';
import { patternProblem } from './names';
import { splitFrames } from './segments';

/** Puts an item's newest plan into the queue. @throws PlanError, in words, when it cannot run. */
export async function startJob(a: Archive, itemId: string, options: JobOptions): Promise<Job> {
  const item = await findItem(a, itemId);
  if (!item) throw new PlanError('There is no such item.');
  const problem = patternProblem(options.pattern);
  if (problem) throw new PlanError(problem);
  if (!handsOver(options)) throw new PlanError('Nothing is chosen to hand over.');
  const current = await currentPlan(a, itemId);
  if (!current) throw new PlanError('The item is still being examined and has no plan yet.');
  const stream = measuredStream(item);
  const output = outputStream(current.plan, stream);
  if (options.print && item.kind === 'still') {
    try {
      layOutPrint(output, options.print);
    } catch (error) {
      throw new PlanError((error as Error).message);
    }
  }
  return createJob(a, {
    itemId,
    planVersion: current.version,
    plan: current.plan,
    options,
    frames: output.frames,
    segments: splitFrames(output),
  });
}
