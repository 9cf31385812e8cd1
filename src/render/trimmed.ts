import type { StreamInfo } from '../core/picture/picture';
import { planStreams, type ReadyStep } from '../core/plan/plan';

/**
 * Part of the source's running time a plan keeps, in seconds from the first frame; nothing when it keeps all.
 * Read from the plan's own frame mapping, so that any treatment that cuts is covered.
 */
export function keptTime(steps: ReadyStep[], source: StreamInfo): { start: number; duration: number } | undefined {
  if (source.frames <= 1) return undefined;
  const streams = planStreams(steps, source);
  const output = streams[streams.length - 1];
  const duration = (output.frames * output.rate.den) / output.rate.num;
  const whole = (source.frames * source.rate.den) / source.rate.num;
  let first = 0;
  for (let i = steps.length - 1; i >= 0; i--) first = steps[i].treatment.frameAt?.(first, steps[i].settings, streams[i]) ?? first;
  if (first === 0 && Math.abs(duration - whole) < 1e-9) return undefined;
  return { start: (first * source.rate.den) / source.rate.num, duration };
}
