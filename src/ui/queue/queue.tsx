'use client';

import { closestCenter, DndContext, type DragEndEvent } from '@dnd-kit/core';
import { arrayMove, SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import type { ExaminedAnswer, JobProgress } from '../../archive';
import { api } from '../parts/api';
import { Empty } from '../parts/empty';
import { Shell, useExamining, useJobs } from '../parts/shell';
import { sortingAnnouncements, useSortingSensors } from '../parts/sorting';
import { Hours } from './hours';
import { JobRow, type RowAction } from './jobRow';
import { LookIn } from './lookIn';
import type { JobActionRequest } from '../../shared/requests';

const goes = ({ state }: JobProgress): boolean => state === 'running' || state === 'queued' || state === 'paused';

/** Jobs: what runs, what waits and why, what is done; stopped, moved, run again, looked into. */
export function Queue() {
  const { data = [], isPending } = useJobs();
  const { data: examining = [] } = useExamining();
  const queries = useQueryClient();
  const [looked, setLooked] = useState<string>();
  const going = data.filter(goes);
  const sensors = useSortingSensors();
  const act = async (job: JobProgress, action: RowAction, to?: number): Promise<void> => {
    try {
      if (action === 'cancel') await api(`jobs/${job.id}`, { method: 'DELETE' });
      else await api(`jobs/${job.id}`, { method: 'PATCH', json: { action, ...(to !== undefined && { to }) } satisfies JobActionRequest });
      if (action === 'cancel') toast(`${job.itemName}: cancelled. The original and earlier deliveries are untouched.`);
    } catch (error) {
      toast.error((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ['jobs'] });
  };
  const dropped = ({ active, over }: DragEndEvent): void => {
    const job = going.find((j) => j.id === active.id),
      to = going.findIndex((j) => j.id === over?.id);
    if (!job || to < 0 || going[to] === job) return;
    // Where it was set down it stays, also while the server has not yet answered.
    void queries.cancelQueries({ queryKey: ['jobs'] });
    queries.setQueryData(['jobs'], [...arrayMove(going, going.indexOf(job), to), ...data.filter((j) => !goes(j))]);
    void act(job, 'move', to);
  };
  const announcements = sortingAnnouncements(
    going.map((job) => job.id),
    (id) => going.find((job) => job.id === id)?.itemName ?? 'The job',
  );
  const seen = data.find((j) => j.id === looked);
  return (
    <Shell trail={<h1 className="text-[15px]">Queue</h1>}>
      <main className="flex-1 overflow-auto px-[14px] py-3">
        <Hours />
        <Examining items={examining} />
        {!isPending && data.length === 0 && examining.length === 0 && (
          <Empty title="Nothing in the queue.">Open an item, look at its plan, and choose “Add to queue”.</Empty>
        )}
        {data.length > 0 && (
          <DndContext id="queue" sensors={sensors} collisionDetection={closestCenter} accessibility={{ announcements }} onDragEnd={dropped}>
            <table className="table" aria-label="Jobs">
              <thead>
                <tr>
                  <th className="w-[22px]" />
                  <th className="w-[24%]">Item</th>
                  <th>State</th>
                  <th className="w-[18%]">Frames</th>
                  <th className="num">s / frame</th>
                  <th className="num">Time left</th>
                  <th className="num">Pieces</th>
                  <th className="num">Plan</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                <SortableContext items={going.map((j) => j.id)} strategy={verticalListSortingStrategy}>
                  {data.map((job) => (
                    <JobRow
                      key={job.id}
                      job={job}
                      before={goes(job) ? going.indexOf(job) : undefined}
                      act={(action, to) => void act(job, action, to)}
                      look={() => setLooked(job.id)}
                    />
                  ))}
                </SortableContext>
              </tbody>
            </table>
          </DndContext>
        )}
      </main>
      {seen && <LookIn job={seen} close={() => setLooked(undefined)} />}
    </Shell>
  );
}

/** Names told of what is being examined. */
const NAMED = 6;

/** What is being examined beside the jobs: it gives way to them. */
function Examining({ items }: { items: ExaminedAnswer[] }) {
  if (items.length === 0) return null;
  const more = items.length - NAMED;
  return (
    <p role="status" className="py-3 text-ink2">
      <span className="font-semibold text-ink">
        {items.length} {items.length === 1 ? 'item is' : 'items are'} being examined
      </span>{' '}
      {items.slice(0, NAMED).map(({ id, name }, n) => (
        <span key={id}>
          {n > 0 && ' · '}
          <Link href={`/items/${id}`} className="hover:underline">
            {name}
          </Link>
        </span>
      ))}
      {more > 0 && ` and ${more} more`}
    </p>
  );
}
