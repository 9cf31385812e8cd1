'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import { ACCESS_QUALITY, DEFAULT_JOB_OPTIONS, type JobOptions, type StillAccess } from '../../shared/jobs';
import { api } from '../parts/api';
import { Sheet, SheetButtons } from '../parts/ask';
import { streamText } from '../parts/format';
import { versionAt } from './state/history';
import { useBench } from './state/store';
import type { NamesAnswer } from '../../archive';
import type { JobRequest } from '../../shared/requests';

/** What is asked before a job goes into the queue. */
export function QueueDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Sheet title="Add to the queue" open={open} onOpenChange={onOpenChange}>
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
  const start = async (): Promise<void> => {
    setBusy(true);
    try {
      await api('jobs', { method: 'POST', json: { itemId: item.id, ...options } satisfies JobRequest });
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
  const access = options.stillAccess ?? 'jpeg';
  const wrong = names.data?.problem ?? (description.runs ? '' : 'The plan cannot run: see the marked step.');
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
      <fieldset className="mb-3">
        <legend className="mb-1 font-semibold">Hand over</legend>
        <Tick label="Untouched original, with its checksum" on={options.original} set={(original) => set({ original })} />
        <Tick
          label={still ? 'Restored master, lossless, 16 bits' : 'Restored master: Matroska, FFV1, sound as in the source'}
          on={options.master}
          set={(master) => set({ master })}
        />
        <Tick
          label={still ? 'Access copy, 8 bits' : 'Access copy: MP4, H.264 and AAC'}
          on={options.access}
          set={(access) => set({ access })}
        />
        <p className="pl-[21px] text-ink2">The provenance record always goes with them.</p>
      </fieldset>
      {still && (
        <div className="mb-3 flex flex-wrap gap-x-4 gap-y-2">
          <label className="flex items-center gap-2">
            Master as
            <select
              className="field"
              value={options.stillMaster}
              onChange={(e) => set({ stillMaster: e.target.value as JobOptions['stillMaster'] })}
            >
              <option value="tiff">TIFF</option>
              <option value="png">PNG</option>
            </select>
          </label>
          <label className="flex items-center gap-2">
            Access copy as
            <select
              className="field"
              value={access}
              onChange={(e) => set({ stillAccess: e.target.value as StillAccess, accessQuality: undefined })}
            >
              <option value="jpeg">JPEG</option>
              <option value="webp">WebP</option>
              <option value="avif">AVIF</option>
            </select>
          </label>
          <label className="flex items-center gap-2">
            Quality
            <input
              type="number"
              className="field w-[56px]"
              min={1}
              max={100}
              value={options.accessQuality ?? ACCESS_QUALITY[access]}
              onChange={(e) => set({ accessQuality: Number(e.target.value) })}
            />
          </label>
          <label className="flex items-center gap-2">
            Pixels per inch
            <input
              type="number"
              className="field w-[72px]"
              min={36}
              max={2400}
              value={options.ppi}
              onChange={(e) => set({ ppi: Number(e.target.value) })}
            />
          </label>
        </div>
      )}
      {still && options.ppi > 0 && (
        <p className="mb-3 text-ink2">
          {output.width} × {output.height} px are {centimetres(output.width, options.ppi)} × {centimetres(output.height, options.ppi)} cm on
          paper at {options.ppi} pixels an inch. For a larger print, Upscale to the size it shall have.
        </p>
      )}
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
          <li key={n} className="truncate">
            {n}
          </li>
        ))}
      </ul>
      {(wrong || problem) && (
        <p role="alert" className="mt-1 text-warn">
          {problem || wrong}
        </p>
      )}
      <SheetButtons cancel={close} submit="Add to queue" disabled={busy || Boolean(wrong) || history.unsent.length > 0} />
    </form>
  );
}

const centimetres = (pixels: number, ppi: number): string => ((2.54 * pixels) / ppi).toFixed(1);

function Tick({ label, on, set }: { label: string; on: boolean; set: (on: boolean) => void }) {
  return (
    <label className="flex min-h-[26px] items-center gap-2">
      <input type="checkbox" className="h-4 w-4 accent-[var(--act)]" checked={on} onChange={(e) => set(e.target.checked)} />
      {label}
    </label>
  );
}
