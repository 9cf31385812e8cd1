import type { NetworkName } from '../networks/model';
import type { StreamInfo } from '../picture/picture';
import type { ReadyStep } from './plan';

/**
 * The networks that work a step of a plan. Cleaning steps in a row are one pass (see the executor): where one of them has
 * the neighbouring frames help, they help all of them.
 *
 * @param streams before the first step and after each.
 */
export function networksOf(steps: ReadyStep[], streams: StreamInfo[], index: number): NetworkName[] {
  const request = (n: number): { moving?: boolean } | undefined => {
    const step = steps.at(n);
    return n >= 0 && step ? step.treatment.steering?.(step.settings, streams[n]) : undefined;
  };
  const { treatment, settings } = steps[index];
  const own = treatment.networks?.(settings, streams[index]) ?? [];
  if (!request(index)) return own;
  let first = index,
    last = index;
  while (request(first - 1)) first--;
  while (request(last + 1)) last++;
  const row = steps.slice(first, last + 1);
  const moving = row.findIndex((_, n) => request(first + n)?.moving);
  if (moving < 0) return own;
  const { treatment: kind, settings: told } = row[moving];
  return kind.networks?.(told, streams[first]) ?? own;
}
