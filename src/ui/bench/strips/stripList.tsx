'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Strip } from '../../../archive';
import { api } from '../../parts/api';
import { moment } from '../../parts/format';
import { useBench, useBenchStore } from '../state/store';

/** The item's test strips, to be opened again. */
export function StripList() {
  const bench = useBenchStore();
  const queries = useQueryClient();
  const id = useBench((s) => s.item.id);
  const { data = [] } = useQuery({ queryKey: ['strips', id], queryFn: () => api<Strip[]>(`items/${id}/strips`) });
  const remove = async (strip: Strip): Promise<void> => {
    await api(`items/${id}/strips/${strip.id}`, { method: 'DELETE' });
    if (bench.getState().strip?.id === strip.id) bench.setState({ strip: undefined });
    await queries.invalidateQueries({ queryKey: ['strips', id] });
  };
  if (data.length === 0)
    return (
      <p className="px-[14px] py-3 text-ink2">
        No test strip yet. One shows a piece of the picture under two to four settings of a step, side by side: press T.
      </p>
    );
  return (
    <ul aria-label="Test strips">
      {data.map((strip) => (
        <li key={strip.id} className="border-b px-[14px] py-[6px]" data-testid="strip">
          <p className="truncate font-semibold">{strip.about}</p>
          <p className="text-ink2">
            {moment(strip.created)} · frame {strip.frame}
          </p>
          <ul>
            {strip.candidates.map((c, n) => (
              <li key={c.label} className="flex justify-between gap-2 tabular-nums">
                <span className="truncate">{c.label}</span>
                {strip.chosen === n && <span className="text-act">taken</span>}
              </li>
            ))}
          </ul>
          <div className="flex gap-3">
            <button type="button" className="quiet" onClick={() => bench.setState({ strip })}>
              open
            </button>
            <button type="button" className="quiet" onClick={() => void remove(strip)}>
              throw away
            </button>
          </div>
        </li>
      ))}
    </ul>
  );
}
