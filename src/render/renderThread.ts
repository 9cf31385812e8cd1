import { type DirtReading, type Failure, failureOf, measureDirt, wholeRegion } from '../core';
import { openSource, type OpenSource, type Probed } from '../media';
import { type BandedTask, type BandTask, makeBand, writeBanded } from './bands';
import { renderSegment, type SegmentTask } from './segment';

/** A still whose damage was measured, kept for the render that follows. */
let kept: { path: string; source: OpenSource } | undefined;

/** Entry of a render thread: one piece at a time. */
export default async function render(task: SegmentTask): Promise<Awaited<ReturnType<typeof renderSegment>> | Failure> {
  return renderSegment(task, taken(task.source.path)).catch(failureOf);
}

/** The still that is kept, where it is this one; it is kept no longer. */
function taken(path: string): OpenSource | undefined {
  const source = kept?.path === path ? kept.source : undefined;
  kept = undefined;
  return source;
}

/** Makes one band of a still. */
export const bandOf = (task: BandTask): Promise<void | Failure> => makeBand(task, taken(task.source.path)).catch(failureOf);

/** Writes a still whose bands are made. */
export const writtenOf = (task: BandedTask): Promise<void | Failure> => writeBanded(task).catch(failureOf);

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
