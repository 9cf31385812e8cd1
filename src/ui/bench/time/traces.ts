import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { framesShowing, type TimeMap } from '../../../shared/maps/time';
import type { TraceId } from '../../../core';
import type { TracesAnswer } from '../../../archive';
import { api } from '../../parts/api';
import { useBench } from '../state/store';

/** Traces with their frames as the output counts them, and how far their measuring is. */
export interface ShownTraces extends TracesAnswer {
  done: boolean;
}

/** Traces of the source as the output shows them: what was cut out is left out. */
function shownTraces(data: TracesAnswer, time: TimeMap): TracesAnswer {
  const shownAt = (n: number): number | undefined => framesShowing(time, n, n)?.first;
  const at = data.frames.map(shownAt);
  const kept = <T>(list: T[]): T[] => list.filter((_, i) => at[i] !== undefined);
  const entries = <T, U>(record: Record<string, T>, change: (value: T) => U): Record<string, U> =>
    Object.fromEntries(Object.entries(record).map(([id, value]) => [id, change(value)]));
  return {
    ...data,
    frames: at.filter((n) => n !== undefined),
    values: entries(data.values, kept),
    scenes: data.scenes.map(shownAt).filter((n) => n !== undefined),
    worst: entries(data.worst, (places) =>
      places.flatMap((p) => {
        const frame = shownAt(p.frame);
        return frame === undefined ? [] : [{ ...p, frame }];
      }),
    ),
  };
}

/** The item's traces; asked for again until all is measured. */
export function useTraces(): ShownTraces | undefined {
  const id = useBench((s) => s.item.id);
  const time = useBench((s) => s.description.time);
  const settled = useBench((s) => s.settled);
  const { data } = useQuery({
    enabled: settled,
    queryKey: ['traces', id],
    queryFn: () => api<TracesAnswer>(`items/${id}/traces`),
    staleTime: Infinity,
    refetchInterval: ({ state: { data: d } }) => (!d || (d.share < 1 && !d.problem) ? 1500 : false),
  });
  return useMemo(
    () =>
      data && {
        ...shownTraces(data, time),
        done: data.share >= 1,
      },
    [data, time],
  );
}

/** A trace's value at a frame of the output: that of the nearest frame that was measured. */
export function valueAt({ frames, values }: ShownTraces, id: TraceId, frame: number): number | null | undefined {
  let best = -1;
  for (const [n, at] of frames.entries()) if (best < 0 || Math.abs(at - frame) < Math.abs(frames[best] - frame)) best = n;
  return best < 0 || Math.abs(frames[best] - frame) > 240 ? undefined : values[id][best];
}
