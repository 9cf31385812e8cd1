import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { TraceId } from '../../core/condition/traces';
import type { TracesAnswer } from '../../archive/types';
import { api, type PlanDescription } from '../parts/api';
import { useBench } from './store';

/** Traces with their frames as the output counts them, and how far their measuring is. */
export interface ShownTraces extends TracesAnswer {
  done: boolean;
  /** 0 to 1. */
  share: number;
}

/** The output's frame that shows a source frame; it may lie outside of the output. */
const shownAt = (n: number, { output, shows }: PlanDescription): number =>
  shows.last > shows.first ? ((n - shows.first) * (output.frames - 1)) / (shows.last - shows.first) : 0;

/** The item's traces; asked for again until all is measured. */
export function useTraces(): ShownTraces | undefined {
  const id = useBench((s) => s.item.id);
  const description = useBench((s) => s.description);
  const { data } = useQuery({
    queryKey: ['traces', id],
    queryFn: () => api<TracesAnswer>(`items/${id}/traces`),
    staleTime: Infinity,
    refetchInterval: ({ state: { data: d } }) => (!d || (d.frames.length < d.total && !d.problem) ? 1500 : false),
  });
  return useMemo(
    () =>
      data && {
        ...data,
        frames: data.frames.map((n) => shownAt(n, description)),
        scenes: data.scenes.map((n) => Math.round(shownAt(n, description))),
        worst: Object.fromEntries(
          Object.entries(data.worst).map(([id, places]) => [
            id,
            places.map((p) => ({ ...p, frame: Math.round(shownAt(p.frame, description)) })),
          ]),
        ) as TracesAnswer['worst'],
        done: data.frames.length >= data.total,
        share: data.frames.length / Math.max(1, data.total),
      },
    [data, description],
  );
}

/** A trace's value at a frame of the output: that of the nearest frame that was measured. */
export function valueAt({ frames, values }: ShownTraces, id: TraceId, frame: number): number | null | undefined {
  let best = -1;
  for (const [n, at] of frames.entries()) if (best < 0 || Math.abs(at - frame) < Math.abs(frames[best] - frame)) best = n;
  return best < 0 || Math.abs(frames[best] - frame) > 240 ? undefined : values[id][best];
}
