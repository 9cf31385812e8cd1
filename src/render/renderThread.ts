import { type Failure, failureOf } from '../core';
import { renderSegment, type SegmentTask } from './segment';

/** Entry of a render thread: one piece at a time. */
export default function render(task: SegmentTask): Promise<Awaited<ReturnType<typeof renderSegment>> | Failure> {
  return renderSegment(task).catch(failureOf);
}
