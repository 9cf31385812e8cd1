'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import type { QueueSettings } from '../../archive';
import { api } from '../parts/api';
import type { QueueRequest } from '../../shared/requests';

/** When the queue works, and with how much of the machine. */
export function Hours() {
  const queries = useQueryClient();
  const { data } = useQuery({ queryKey: ['queue'], queryFn: () => api<QueueSettings>('queue') });
  if (!data) return null;
  const change = async (json: QueueRequest): Promise<void> => {
    try {
      queries.setQueryData(['queue'], await api<QueueSettings>('queue', { method: 'PATCH', json }));
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const time = (name: 'from' | 'to', label: string) => (
    <label className="flex items-center gap-[6px]">
      {label}
      <input
        type="time"
        className="field"
        defaultValue={data[name] ?? ''}
        onBlur={(e) => void change({ [name]: e.target.value || null })}
      />
    </label>
  );
  const most = (name: 'threads' | 'memory', label: string, unit: string) => (
    <label className="flex items-center gap-[6px]">
      {label}
      <input
        type="number"
        min={1}
        max={name === 'threads' ? 256 : 4096}
        placeholder="all"
        className="field w-[58px]"
        defaultValue={data[name] ?? ''}
        onBlur={(e) => void change({ [name]: e.target.value ? Number(e.target.value) : null })}
      />
      <span className="text-ink2">{unit}</span>
    </label>
  );
  return (
    <section aria-label="When the queue works" className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-2 border-b pb-3">
      <button type="button" className={`btn ${data.paused ? 'btn-act' : ''}`} onClick={() => void change({ paused: !data.paused })}>
        {data.paused ? 'Let the queue go on' : 'Pause the queue'}
      </button>
      {time('from', 'Works from')}
      {time('to', 'to')}
      {most('threads', 'with at most', 'threads')}
      {most('memory', 'and', 'GiB of memory')}
      {data.paused && <span className="font-semibold text-warn">The queue is paused: nothing runs.</span>}
    </section>
  );
}
