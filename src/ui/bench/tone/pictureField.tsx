'use client';

import { useMutation, useQuery } from '@tanstack/react-query';
import { toast } from 'sonner';
import type { CollectionAnswer, LaidAnswer } from '../../../archive';
import type { SettingSpec } from '../../../core';
import type { PlanStep } from '../../../shared/plan';
import { api } from '../../parts/api';
import { changeSetting } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';

/** Another still of the collection that is laid in. */
export function PictureField({ spec, step, id, value }: { spec: SettingSpec; step: PlanStep; id: string; value: string }) {
  const bench = useBenchStore();
  const { id: own, collectionId } = useBench((s) => s.item);
  const { data } = useQuery({
    queryKey: ['collection', collectionId],
    queryFn: () => api<CollectionAnswer>(`collections/${collectionId}`),
  });
  const stills = (data?.items ?? []).filter((item) => item.kind === 'still' && item.state === 'ready' && item.id !== own);
  const lay = useMutation({
    mutationFn: (item: string) => api<LaidAnswer>(`items/${item}/laid`, { method: 'POST' }),
    onSuccess: ({ picture }) => changeSetting(bench, step.id, spec.key, picture),
    onError: (error) => toast.error(error.message),
  });
  return (
    <span className="col-span-2 flex items-center gap-2">
      {value && (
        // eslint-disable-next-line @next/next/no-img-element -- a document of the archive, not an asset of the site
        <img src={`/api/marks/${value}`} alt="" className="h-[26px] w-[39px] border border-[var(--rule-2)] object-cover" />
      )}
      <select
        id={id}
        className="field min-w-0 flex-1"
        value=""
        disabled={lay.isPending || stills.length === 0}
        onChange={(e) => (e.target.value === 'none' ? changeSetting(bench, step.id, spec.key, '') : lay.mutate(e.target.value))}
      >
        <option value="">
          {lay.isPending ? 'reading it' : stills.length === 0 ? 'no other still here' : value ? 'another' : 'choose'}
        </option>
        {value && <option value="none">none</option>}
        {stills.map((item) => (
          <option key={item.id} value={item.id}>
            {item.name}
          </option>
        ))}
      </select>
    </span>
  );
}
