'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Item, PrintsAnswer } from '../../../archive';
import { api } from '../../parts/api';

/** Makes an item of each print on a scan of several. */
export function PrintsButton({ item }: { item: Item }) {
  const queries = useQueryClient();
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const make = async (): Promise<void> => {
    setBusy(true);
    try {
      const { items } = await api<PrintsAnswer>(`items/${item.id}/prints`, { method: 'POST' });
      await queries.invalidateQueries();
      toast(`${items.length} items were made of this scan, which stays as it is.`);
      router.push(`/collections/${item.collectionId}`);
    } catch (error) {
      toast.error(`No items were made: ${(error as Error).message}`);
      setBusy(false);
    }
  };
  return (
    <button type="button" className="btn mt-1" disabled={busy} onClick={() => void make()}>
      Make an item of each
    </button>
  );
}
