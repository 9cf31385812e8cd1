'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useCallback, useMemo, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { toast } from 'sonner';
import type { Item, CollectionAnswer } from '../../archive';
import { api } from '../parts/api';
import { useCommands, type Command } from '../parts/commands';
import { Empty, Trouble } from '../parts/empty';
import { Shell } from '../parts/shell';
import { ContactSheet } from './contactSheet';
import { IntakeButtons, UploadList } from './intakePanel';
import { SheetMenu } from './sheetMenu';
import { standingOut, type StandingOut } from './standingOut';
import { TemplateSheet } from './templateSheet';
import { useUploads } from './uploads';
import type { JobRequest } from '../../shared/requests';

/** What a card says of an item, for finding it by its condition. */
const wordsOf = (item: Item): string =>
  [item.name, ...(item.condition?.findings ?? []).map((f) => `${f.name} ${f.reading}`), ...item.facts.damage].join(' ').toLowerCase();

/** A collection's items as a contact sheet; files can be dropped anywhere on it. */
export function CollectionPlace({ id }: { id: string }) {
  const queries = useQueryClient();
  const { data, error } = useQuery({
    queryKey: ['collection', id],
    queryFn: () => api<CollectionAnswer>(`collections/${id}`),
    refetchInterval: (query) => (query.state.data?.items.some((i) => i.state === 'examining') ? 700 : false),
  });
  const refresh = useCallback(() => void queries.invalidateQueries({ queryKey: ['collection', id] }), [queries, id]);
  const add = useUploads((s) => s.add);
  const { getRootProps, getInputProps, isDragActive } = useDropzone({
    onDrop: (files) => add(files, id, refresh),
    noClick: true,
    noKeyboard: true,
  });
  const [looked, setLooked] = useState('');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [templating, setTemplating] = useState(false);
  const [only, setOnly] = useState<StandingOut>();
  const out = useMemo(() => standingOut(data?.items ?? []), [data]);
  const items = useMemo(() => {
    const words = looked.toLowerCase().split(/\s+/).filter(Boolean);
    return (data?.items ?? []).filter((i) => words.every((w) => wordsOf(i).includes(w)) && (!only || only.items.includes(i.id)));
  }, [data, looked, only]);
  const turn = useCallback(
    (item: string) =>
      setChosen((old) => {
        const next = new Set(old);
        if (!next.delete(item)) next.add(item);
        return next;
      }),
    [],
  );
  const all = useCallback(() => setChosen(new Set(items.map((i) => i.id))), [items]);
  useCommands(
    useMemo(
      (): Command[] => [
        { id: 'choose-all', name: 'Choose all items', group: 'Collection', keys: ['ctrl+a'], shown: 'Ctrl A', run: all },
        { id: 'choose-none', name: 'Choose none', group: 'Collection', keys: ['escape'], shown: 'Esc', run: () => setChosen(new Set()) },
        { id: 'template', name: 'Apply a template to the chosen items…', group: 'Collection', run: () => setTemplating(true) },
      ],
      [all],
    ),
  );
  const picked = (data?.items ?? []).filter((i) => chosen.has(i.id));
  const queueAll = async (): Promise<void> => {
    let queued = 0;
    for (const item of picked) {
      try {
        await api('jobs', { method: 'POST', json: { itemId: item.id } satisfies JobRequest });
        queued++;
      } catch (e) {
        toast.error(`${item.name}: ${(e as Error).message}`);
      }
    }
    if (queued) toast(`${queued} ${queued === 1 ? 'item is' : 'items are'} in the queue.`);
    await queries.invalidateQueries({ queryKey: ['jobs'] });
  };
  return (
    <Shell
      trail={
        <>
          <h1 className="max-w-[22em] shrink-0 truncate text-[15px]">{data?.collection.name ?? '…'}</h1>
          <span className="min-w-0 truncate text-ink2">
            {data && `${data.items.length} items${data.collection.note ? ` · ${data.collection.note}` : ''}`}
          </span>
        </>
      }
      actions={<IntakeButtons collectionId={id} onDone={refresh} />}
    >
      <main {...getRootProps()} className="relative flex min-h-0 flex-1 flex-col">
        <input {...getInputProps()} data-testid="drop-input" aria-label="Files dropped onto the collection" />
        {data && data.items.length > 0 && (
          <div className="flex h-[34px] shrink-0 items-center gap-3 border-b px-[14px]" role="toolbar" aria-label="Items">
            <input
              className="field w-[230px]"
              type="search"
              aria-label="Show only items whose name or condition holds"
              placeholder="name or condition: grain, interlaced…"
              value={looked}
              onChange={(e) => setLooked(e.target.value)}
            />
            <span className="w-[9em] text-ink2 tabular-nums">{(looked || only) && `${items.length} of ${data.items.length} shown`}</span>
            <span className="flex-1" />
            <span className="text-ink2 tabular-nums" role="status">
              {chosen.size > 0 ? `${chosen.size} chosen` : ''}
            </span>
            <button type="button" className="btn" onClick={chosen.size ? () => setChosen(new Set()) : all}>
              {chosen.size ? 'Choose none' : 'Choose all'}
            </button>
            <Link href={`/people/${id}`} className="btn">
              People
            </Link>
            <SheetMenu collection={id} chosen={chosen} items={data.items.length} />
            <button type="button" className="btn" disabled={chosen.size === 0} onClick={() => setTemplating(true)}>
              Apply a template…
            </button>
            <button type="button" className="btn" disabled={chosen.size === 0} onClick={() => void queueAll()}>
              Add to queue
            </button>
          </div>
        )}
        {data && out.length > 0 && (
          <div className="flex shrink-0 flex-wrap items-center gap-x-3 border-b px-[14px] py-1" role="group" aria-label="For a second look">
            <span className="text-ink2">For a second look</span>
            {out.map((found) => (
              <button
                key={`${found.words} ${found.of}`}
                type="button"
                className="quiet min-h-[24px] aria-pressed:underline"
                aria-pressed={only?.words === found.words && only.of === found.of}
                onClick={() => setOnly(only?.words === found.words && only.of === found.of ? undefined : found)}
              >
                {found.items.length} of {found.of}: {found.words}
              </button>
            ))}
            {only && (
              <button type="button" className="quiet min-h-[24px] text-ink2" onClick={() => setOnly(undefined)}>
                show all again
              </button>
            )}
          </div>
        )}
        <div className="px-[14px] empty:hidden">
          <Trouble error={error} />
          <UploadList />
        </div>
        {data?.items.length === 0 && (
          <div className="px-[14px] py-4">
            <Empty title="Nothing taken in yet.">
              Drop photographs, scans, films or whole folders here, or choose them above. Originals are put away unchanged with their
              checksums; each is examined and gets a proposed plan.
            </Empty>
          </div>
        )}
        {data && data.items.length > 0 && <ContactSheet items={items} pictured={data.pictured} chosen={chosen} turn={turn} />}
        {isDragActive && (
          <div className="pointer-events-none absolute inset-2 grid place-items-center border-2 border-act bg-act2/90 text-[18px] font-semibold">
            Let go to take these in
          </div>
        )}
      </main>
      <TemplateSheet collectionId={id} items={picked} open={templating} onOpenChange={setTemplating} />
    </Shell>
  );
}
