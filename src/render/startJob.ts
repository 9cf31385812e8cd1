import { type Archive, createJob, currentPlan, findItem, type Job, measuredStream } from '../archive';
import type { JobOptions } from '../shared/jobs';
import { outputStream, PlanError } from '../core';
import { patternProblem } from './names';
import { splitFrames } from './segments';

/** Puts an item's newest plan into the queue. @throws PlanError, in words, when it cannot run. */
export async function startJob(a: Archive, itemId: string, options: JobOptions): Promise<Job> {
  const item = await findItem(a, itemId);
  if (!item) throw new PlanError('There is no such item.');
  const problem = patternProblem(options.pattern);
  if (problem) throw new PlanError(problem);
  if (!options.original && !options.master && !options.access) throw new PlanError('Nothing is chosen to hand over.');
  const current = await currentPlan(a, itemId);
  if (!current) throw new PlanError('The item is still being examined and has no plan yet.');
  const stream = measuredStream(item);
  const output = outputStream(current.plan, stream);
  return createJob(a, {
    itemId,
    planVersion: current.version,
    plan: current.plan,
    options,
    frames: output.frames,
    segments: splitFrames(output),
  });
}
