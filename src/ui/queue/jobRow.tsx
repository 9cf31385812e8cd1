'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import Link from 'next/link';
import type { JobProgress } from '../../archive';
import { duration } from '../parts/format';
import type { JobAction } from '../../shared/requests';

/** What a row's buttons ask for. */
export type RowAction = JobAction | 'cancel';

const STATE_WORDS: Record<JobProgress['state'], string> = {
  queued: 'waits',
  running: 'runs',
  paused: 'paused',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
};

/** @param before how many jobs come before it; none of one that has ended. */
export function JobRow({
  job,
  before,
  act,
  look,
}: {
  job: JobProgress;
  before: number | undefined;
  act(action: RowAction, to?: number): void;
  look(): void;
}) {
  const goes = before !== undefined;
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({ id: job.id, disabled: !goes });
  return (
    <tr
      ref={setNodeRef}
      data-testid="job"
      data-job={job.id}
      data-state={job.state}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <td>
        {goes && (
          <button
            type="button"
            ref={setActivatorNodeRef}
            {...attributes}
            {...listeners}
            aria-label={`Move ${job.itemName}`}
            title="Drag to move; or space, then arrow keys"
            className="grid h-[20px] w-[18px] cursor-grab touch-none place-items-center text-ink3 hover:text-ink"
          >
            <GripVertical size={14} aria-hidden />
          </button>
        )}
      </td>
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
        <div className="max-w-[26em] text-ink2">{why(job, before)}</div>
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
      <td>
        <div className="flex justify-end gap-[6px]">
          {goes && job.kind === 'moving' && job.segmentsDone > 0 && (
            <button type="button" className="btn" onClick={look}>
              Look in
            </button>
          )}
          {(job.state === 'running' || job.state === 'queued') && (
            <button type="button" className="btn" onClick={() => act('pause')}>
              Pause
            </button>
          )}
          {job.state === 'paused' && (
            <button type="button" className="btn" onClick={() => act('resume')}>
              Go on
            </button>
          )}
          {goes && (
            <button type="button" className="btn" onClick={() => act('cancel')}>
              Cancel
            </button>
          )}
          {(job.state === 'failed' || job.state === 'cancelled') && (
            <button type="button" className="btn" onClick={() => act('retry')}>
              Run again
            </button>
          )}
          {job.state === 'done' && (
            <Link href="/deliveries" className="quiet">
              Delivery
            </Link>
          )}
        </div>
      </td>
    </tr>
  );
}

function why(job: JobProgress, before: number | undefined): string {
  if (job.message) return job.message;
  if (job.state === 'queued') return before ? `${before} before it` : 'a worker is about to take it';
  if (job.state === 'running' && job.segmentsDone === job.segments) return 'putting the pieces together';
  return '';
}
