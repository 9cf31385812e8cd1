'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { SplitAnswer } from '../../../archive';
import { sourceFrame } from '../../../shared/maps/time';
import { api } from '../../parts/api';
import { Sheet, SheetButtons } from '../../parts/ask';
import { useBench } from '../state/store';
import type { SplitRequest } from '../../../shared/requests';

/** Asks whether the item is to be two from the frame in view on. */
export function SplitDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Sheet title="Split the item" open={open} onOpenChange={onOpenChange}>
      <SplitForm close={() => onOpenChange(false)} />
    </Sheet>
  );
}

function SplitForm({ close }: { close: () => void }) {
  const item = useBench((s) => s.item);
  const frames = useBench((s) => s.description.source.frames);
  const at = useBench((s) => sourceFrame(s.description.time, s.frame));
  const queries = useQueryClient();
  const router = useRouter();
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const split = async (): Promise<void> => {
    setBusy(true);
    try {
      const { second } = await api<SplitAnswer>(`items/${item.id}/split`, { method: 'POST', json: { frame: at } satisfies SplitRequest });
      await queries.invalidateQueries();
      toast(`“${second.name}” is an item of its own now.`);
      router.push(`/collections/${item.collectionId}`);
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void split();
      }}
    >
      {at > 0 && at < frames ? (
        <p className="mb-3 max-w-[46em]">
          Two items come of it: source frames 0 to {at - 1}, which keep this one&apos;s plans and deliveries, and {at} to {frames - 1}, with
          a copy of the plan. Both are examined anew. The original stays one file, untouched.
        </p>
      ) : (
        <p className="mb-3">Go to the frame that the second half shall begin with; before the first frame there is nothing to split off.</p>
      )}
      {problem && (
        <p role="alert" className="mt-2 text-warn">
          {problem}
        </p>
      )}
      <SheetButtons cancel={close} submit={`Split before frame ${at}`} disabled={busy || at <= 0 || at >= frames} />
    </form>
  );
}
