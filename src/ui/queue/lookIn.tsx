'use client';

import { Dialog } from 'radix-ui';
import { useState } from 'react';
import type { JobProgress } from '../../archive';

/** What a running job has made so far, beside its source at the same moment. */
export function LookIn({ job, close }: { job: JobProgress; close(): void }) {
  // Pieces come in order but for the few that are worked at once; the newest finished frame lies in what is done for sure.
  const newest = Math.max(0, Math.min(job.frames - 1, Math.floor((job.frames * job.segmentsDone) / job.segments) - 1));
  const [chosen, setChosen] = useState<number>();
  const [missing, setMissing] = useState<number>();
  const frame = chosen ?? newest;
  const picture = (side: 'source' | 'made') => `/api/jobs/${job.id}/frame?frame=${frame}&side=${side}`;
  return (
    <Dialog.Root open onOpenChange={(open) => !open && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-40 w-[min(1180px,94vw)] -translate-x-1/2 -translate-y-1/2 border border-rule2 bg-paper p-4"
        >
          <Dialog.Title className="serif mb-3 text-[17px]">{job.itemName}, as it is made</Dialog.Title>
          <div className="grid grid-cols-2 gap-3">
            {(['source', 'made'] as const).map((side) => (
              <figure key={side}>
                <div className="grid aspect-[4/3] place-items-center bg-[#777]">
                  {side === 'made' && missing === frame ? (
                    <span className="px-4 text-center text-white">This frame is not made yet.</span>
                  ) : (
                    // eslint-disable-next-line @next/next/no-img-element
                    <img
                      src={picture(side)}
                      alt={side === 'source' ? 'The source' : 'What is made of it'}
                      className="max-h-full max-w-full object-contain"
                      onError={() => side === 'made' && setMissing(frame)}
                    />
                  )}
                </div>
                <figcaption className="mt-1 text-ink2">{side === 'source' ? 'Source' : 'Made'}</figcaption>
              </figure>
            ))}
          </div>
          <div className="mt-3 flex items-center gap-3">
            <label className="flex flex-1 items-center gap-2">
              Frame
              <input
                type="range"
                className="flex-1"
                min={0}
                max={newest}
                value={Math.min(frame, newest)}
                onChange={(e) => setChosen(Number(e.target.value))}
              />
              <span className="num w-[7em]">
                {(frame + 1).toLocaleString('en-GB')} of {job.frames.toLocaleString('en-GB')}
              </span>
            </label>
            {chosen !== undefined && (
              <button type="button" className="quiet" onClick={() => setChosen(undefined)}>
                Newest
              </button>
            )}
            <Dialog.Close className="btn">Close</Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
