'use client';

import { useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { toast } from 'sonner';
import type { JobProgress } from '../../archive/types';
import { api } from '../parts/api';
import { duration } from '../parts/format';
import { Empty } from '../parts/empty';
import { Shell, useJobs } from '../parts/shell';

const STATE_WORDS: Record<JobProgress['state'], string> = {
  queued: 'waits',
  running: 'runs',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
};

/** Jobs: what runs, what waits and why, what is done. */
export function Queue() {
  const { data = [], isPending } = useJobs();
  const queries = useQueryClient();
  const cancel = async (job: JobProgress): Promise<void> => {
    try {
      await api(`jobs/${job.id}`, { method: 'DELETE' });
      toast(`${job.itemName}: cancelled. The original and earlier deliveries are untouched.`);
    } catch (error) {
      toast.error((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ['jobs'] });
  };
  return (
    <Shell trail={<h1 className="text-[15px]">Queue</h1>}>
      <main className="flex-1 overflow-auto px-[14px] py-4">
        {!isPending && data.length === 0 && (
          <Empty title="Nothing in the queue.">Open an item, look at its plan, and choose “Add to queue”.</Empty>
        )}
        {data.length > 0 && (
          <table className="table" aria-label="Jobs">
            <thead>
              <tr>
                <th className="w-[26%]">Item</th>
                <th>State</th>
                <th className="w-[22%]">Frames</th>
                <th className="num">s / frame</th>
                <th className="num">Time left</th>
                <th className="num">Pieces</th>
                <th className="num">Plan</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {data.map((job) => (
                <tr key={job.id} data-testid="job" data-state={job.state}>
                  <td>
                    <Link href={`/items/${job.itemId}`} className="serif text-[14px] hover:underline">
                      {job.itemName}
                    </Link>
                    <div className="text-ink2">{job.collectionName}</div>
                  </td>
                  <td>
                    <span className={job.state === 'failed' ? 'font-semibold text-warn' : job.state === 'running' ? 'font-semibold' : ''}>
                      {STATE_WORDS[job.state]}
                    </span>
                    <div className="max-w-[26em] text-ink2">{why(job, data)}</div>
                  </td>
                  <td>
                    <div className="num text-left">
                      {job.framesDone.toLocaleString('en-GB')} of {job.frames.toLocaleString('en-GB')}
                    </div>
                    <div
                      className="mt-1 h-1 bg-rule"
                      role="progressbar"
                      aria-label={`${job.itemName}, frames done`}
                      aria-valuenow={Math.round((100 * job.framesDone) / job.frames)}
                      aria-valuemin={0}
                      aria-valuemax={100}
                    >
                      <div className="h-1 bg-act" style={{ width: `${(100 * job.framesDone) / job.frames}%` }} />
                    </div>
                  </td>
                  <td className="num">{job.secondsPerFrame ? job.secondsPerFrame.toFixed(3) : '–'}</td>
                  <td className="num">{job.secondsLeft !== null ? duration(job.secondsLeft) : '–'}</td>
                  <td className="num">
                    {job.segmentsDone} / {job.segments}
                  </td>
                  <td className="num">version {job.planVersion}</td>
                  <td className="num">
                    {(job.state === 'running' || job.state === 'queued') && (
                      <button type="button" className="btn" onClick={() => void cancel(job)}>
                        Cancel
                      </button>
                    )}
                    {job.state === 'done' && (
                      <Link href="/deliveries" className="quiet">
                        Delivery
                      </Link>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </main>
    </Shell>
  );
}

function why(job: JobProgress, all: JobProgress[]): string {
  if (job.message) return job.message;
  if (job.state === 'queued') {
    const before = all.filter((j) => (j.state === 'running' || j.state === 'queued') && j.position < job.position).length;
    return before ? `${before} before it` : 'a worker is about to take it';
  }
  if (job.state === 'running' && job.segmentsDone === job.segments) return 'putting the pieces together';
  return '';
}
