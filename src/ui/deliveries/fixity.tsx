'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Delivery, FixityResult } from '../../archive';
import { api, errorText } from '../parts/api';

/** 2026-11-26 18:56 UTC */
export const moment = (iso: string): string => `${iso.slice(0, 16).replace('T', ' ')} UTC`;

/** When a delivery's files were last held against their checksums, and a button to do it now. */
export function Fixity({ delivery }: { delivery: Delivery }) {
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const check = async (): Promise<void> => {
    setBusy(true);
    try {
      const { problem } = await api<FixityResult>(`deliveries/${delivery.id}/check`, { method: 'POST' });
      if (!problem) toast(`${delivery.itemName}: every file is as it was delivered.`);
    } catch (error) {
      toast.error((error as Error).message);
    }
    setBusy(false);
    await queries.invalidateQueries({ queryKey: ['deliveries'] });
  };
  return (
    <>
      {delivery.problem ? (
        <span className="font-semibold text-warn">{delivery.problem}</span>
      ) : (
        delivery.checked && <span className="text-ink2">checksums held on {moment(delivery.checked)}</span>
      )}
      <button type="button" className="quiet shrink-0" disabled={busy} onClick={() => void check()}>
        {busy ? 'Checking …' : 'Check'}
      </button>
    </>
  );
}

/** Holds all originals and deliveries against their checksums, and tells what it finds as it goes. */
export function CheckAll() {
  const queries = useQueryClient();
  const [results, setResults] = useState<FixityResult[]>();
  const [stop, setStop] = useState<AbortController>();
  const start = async (): Promise<void> => {
    const control = new AbortController();
    setStop(control);
    setResults([]);
    try {
      const response = await fetch('/api/fixity', { method: 'POST', signal: control.signal });
      if (!response.ok || !response.body) throw new Error(await errorText(response));
      let rest = '';
      for await (const text of response.body.pipeThrough(new TextDecoderStream()) as unknown as AsyncIterable<string>) {
        const lines = (rest + text).split('\n');
        rest = lines.pop() ?? '';
        setResults((known = []) => [...known, ...lines.map((line) => JSON.parse(line) as FixityResult)]);
      }
    } catch (error) {
      if (!control.signal.aborted) toast.error((error as Error).message);
    }
    setStop(undefined);
    await queries.invalidateQueries({ queryKey: ['deliveries'] });
  };
  const wrong = results?.filter((r) => r.problem) ?? [];
  return (
    <section aria-label="Fixity" className="mb-4 border-b pb-3">
      <div className="flex items-center gap-3">
        {stop ? (
          <button type="button" className="btn" onClick={() => stop.abort()}>
            Stop
          </button>
        ) : (
          <button type="button" className="btn" onClick={() => void start()}>
            Check all originals and deliveries
          </button>
        )}
        {results ? (
          <span data-testid="fixity" className={wrong.length ? 'font-semibold text-warn' : 'text-ink2'}>
            {results.length} checked, {wrong.length ? `${wrong.length} not as they were` : 'all as they were'}
          </span>
        ) : (
          <span className="text-ink2">Each is also looked at by itself once a month, while the queue is empty.</span>
        )}
      </div>
      {wrong.length > 0 && (
        <ul className="mt-2">
          {wrong.map((r) => (
            <li key={r.id}>
              <span className="serif">{r.name}</span>: {r.problem}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
