import { type DirtReading, type Failure, failureOf, measureDirt, wholeRegion } from '../core';
import { openSource, type OpenSource, type Probed } from '../media';
import { renderSegment, type SegmentTask } from './segment';

/** A still whose damage was measured, kept for the render that follows. */
let kept: { path: string; source: OpenSource } | undefined;

/** Entry of a render thread: one piece at a time. */
export default async function render(task: SegmentTask): Promise<Awaited<ReturnType<typeof renderSegment>> | Failure> {
  const { path } = task.source;
  const opened = kept?.path === path ? kept.source : undefined;
  kept = undefined;
  return renderSegment(task, opened).catch(failureOf);
}

/** A still whose damage is to be measured. */
export interface DamageTask {
  path: string;
  probed: Probed;
}

/** Measures the damage of a still. */
export async function damageOf({ path, probed }: DamageTask): Promise<DirtReading | Failure> {
  try {
    const source = await openSource(path, path, probed);
    kept = { path, source };
    return await measureDirt(await source.frame(0, wholeRegion(source.info)));
  } catch (error) {
    return failureOf(error);
  }
}
