'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import { DEFAULT_JOB_OPTIONS, type JobOptions } from '../../../shared/jobs';
import { api } from '../../parts/api';
import { Sheet, SheetButtons } from '../../parts/ask';
import { streamText } from '../../parts/format';
import { versionAt } from '../state/history';
import { useBench } from '../state/store';
import { PrintFields, printProblem } from './printFields';
import { AccessFields, MasterFields } from './stillFields';
import type { InPictureAnswer, NamesAnswer } from '../../../archive';
import type { JobRequest } from '../../../shared/requests';

/** What is asked before a job goes into the queue. */
export function QueueDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const still = useBench((s) => s.item.kind === 'still');
  return (
    <Sheet title="Add to the queue" open={open} onOpenChange={onOpenChange} wide={still}>
      <QueueForm close={() => onOpenChange(false)} />
    </Sheet>
  );
}

function QueueForm({ close }: { close: () => void }) {
  const item = useBench((s) => s.item);
  const output = useBench((s) => s.output);
  const description = useBench((s) => s.description);
  const history = useBench((s) => s.history);
  const version = versionAt(history, history.at)?.number;
  const queries = useQueryClient();
  const still = item.kind === 'still';
  const [options, setOptions] = useState<JobOptions>({
    ...DEFAULT_JOB_OPTIONS,
    ppi: Math.round(item.facts.density ?? DEFAULT_JOB_OPTIONS.ppi),
  });
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const set = (part: Partial<JobOptions>): void => setOptions((o) => ({ ...o, ...part }));
  const names = useQuery({
    queryKey: ['names', item.id, options],
    queryFn: () => api<NamesAnswer>(`items/${item.id}/names`, { method: 'POST', json: options }),
    placeholderData: (old) => old,
  });
  const people = useQuery({
    queryKey: ['people-in', item.id],
    queryFn: () => api<InPictureAnswer[]>(`items/${item.id}/people`),
    enabled: still,
  });
  const named = (people.data ?? []).flatMap(({ name }) => name ?? []);
  const start = async (): Promise<void> => {
    setBusy(true);
    try {
      // Whoever leaves the page at once has added it all the same.
      await api('jobs', { method: 'POST', keepalive: true, json: { itemId: item.id, ...options } satisfies JobRequest });
      await queries.invalidateQueries({ queryKey: ['jobs'] });
      toast(
        <span>
          {item.name} is in the queue.{' '}
          <Link href="/queue" className="quiet">
            Look at the queue
          </Link>
        </span>,
      );
      close();
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  const wrong =
    names.data?.problem ?? (description.runs ? printProblem(output, options.print) : 'The plan cannot run: see the marked step.');
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void start();
      }}
    >
      <p className="mb-3 text-ink2">
        Plan version {version}: {streamText(output)}
        {!still && `, ${output.frames.toLocaleString('en-GB')} frames`}.
      </p>
      <div className={still ? 'grid gap-x-8 gap-y-3 md:grid-cols-[3fr_2fr]' : 'grid gap-3'}>
        <fieldset>
          <legend className="mb-1 font-semibold">Hand over</legend>
          <Tick label="Untouched original, with its checksum" on={options.original} set={(original) => set({ original })} />
          <Tick
            label={still ? 'Restored master, lossless, 16 bits' : 'Restored master: Matroska, FFV1, sound as in the source'}
            on={options.master}
            set={(master) => set({ master })}
          />
          {still && <MasterFields options={options} set={set} />}
          <Tick
            label={still ? 'Access copy, 8 bits' : 'Access copy: MP4, H.264 and AAC'}
            on={options.access}
            set={(access) => set({ access })}
          />
          {still && options.access && <AccessFields options={options} set={set} />}
          {still && (
            <>
              {named.length > 0 && (
                <Tick
                  label={`Names with their places in the metadata: ${named.join(', ')}`}
                  on={options.namePlaces === true}
                  set={(namePlaces) => set({ namePlaces })}
                />
              )}
              <Tick label="Sheet of before and after, PDF and PNG" on={options.sheet === true} set={(sheet) => set({ sheet })} />
              <PrintFields print={options.print} picture={output} set={set} />
            </>
          )}
          <p className="mt-1 text-ink2">The provenance record always goes with them.</p>
        </fieldset>
        <div className="min-w-0">
          <label htmlFor="pattern" className="mb-1 block font-semibold">
            File names
          </label>
          <input
            id="pattern"
            className="field w-full"
            value={options.pattern}
            onChange={(e) => set({ pattern: e.target.value })}
            spellCheck={false}
          />
          <p className="mt-1 text-ink2">
            Words: {'{collection} {item} {kind} {date}'}. Nothing is ever overwritten: a name that exists gets a number.
          </p>
          <ul className="mt-2 min-h-[72px] border-t pt-1.5" aria-label="Names as they will be">
            {names.data?.names.map((n) => (
              <li key={n} className="truncate" title={n}>
                {n}
              </li>
            ))}
          </ul>
        </div>
      </div>
      {(wrong || problem) && (
        <p role="alert" className="mt-1 text-warn">
          {problem || wrong}
        </p>
      )}
      <SheetButtons cancel={close} submit="Add to queue" disabled={busy || Boolean(wrong) || history.unsent.length > 0} />
    </form>
  );
}

function Tick({ label, on, set }: { label: string; on: boolean; set: (on: boolean) => void }) {
  return (
    <label className="flex min-h-[26px] items-center gap-2">
      <input type="checkbox" className="h-4 w-4 accent-[var(--act)]" checked={on} onChange={(e) => set(e.target.checked)} />
      {label}
    </label>
  );
}
