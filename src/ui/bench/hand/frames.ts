import { CARRIED, type StrokeMark, type StrokeUse } from '../../../shared/marks';
import { framesShowing, sourceFrame } from '../../../shared/maps/time';
import { goTo } from '../state/keys';
import type { Bench, BenchState } from '../state/store';

/** Frame of the source in view; undefined of a still, whose marks name none. */
export const seenFrame = ({ description: { source, time }, frame }: Pick<BenchState, 'description' | 'frame'>): number | undefined =>
  source.frames > 1 ? sourceFrame(time, frame) : undefined;

/** What a mark that is made in view says of its frame. */
export const ofFrame = (use: StrokeUse, seen: number | undefined): Pick<StrokeMark, 'frame'> =>
  seen !== undefined && CARRIED.includes(use) ? { frame: seen } : {};

/** Whether a mark was drawn on the frame in view; those that stand still are on every one. */
export const isOn = ({ frame }: StrokeMark, seen: number | undefined): boolean => frame === undefined || frame === seen;

/** Frame of the plan's output that shows a frame of the source; undefined where none does. */
export const frameShowing = ({ description }: Pick<BenchState, 'description'>, frame: number): number | undefined =>
  framesShowing(description.time, frame, frame)?.first;

/** Brings the frame of the source that something lies on into view, where the plan shows it. */
export function showFrame(bench: Bench, { frame }: Pick<StrokeMark, 'frame'>): void {
  if (frame === undefined) return;
  const first = frameShowing(bench.getState(), frame);
  if (first !== undefined) goTo(bench, first);
}
