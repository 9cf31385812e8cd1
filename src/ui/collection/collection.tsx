'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useCallback } from 'react';
import { useDropzone } from 'react-dropzone';
import type { Collection, Item } from '../../archive/types';
import { api } from '../parts/api';
import { bytes, duration, rate, shapeText } from '../parts/format';
import { Empty, Trouble } from '../parts/empty';
import { Shell } from '../parts/shell';
import { IntakeButtons, UploadList } from './intakePanel';
import { useUploads } from './uploads';

interface Answer {
  collection: Collection;
  items: Item[];
}

/** A collection's items as a contact sheet; files can be dropped anywhere on it. */
export function CollectionPlace({ id }: { id: string }) {
  const queries = useQueryClient();
  const { data, error } = useQuery({
    queryKey: ['collection', id],
    queryFn: () => api<Answer>(`collections/${id}`),
    refetchInterval: (query) => (query.state.data?.items.some((i) => i.state === 'examining') ? 700 : false),
  });
  const refresh = useCallback(() => void queries.invalidateQueries({ queryKey: ['collection', id] }), [queries, id]);
  const add = useUploads((s) => s.add);
  const { getRootProps, getInputProps, isDragActive } = useDropzone({
    onDrop: (files) => add(files, id, refresh),
    noClick: true,
    noKeyboard: true,
  });
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
      <main {...getRootProps()} className="relative flex-1 overflow-auto px-[14px] py-4">
        <input {...getInputProps()} data-testid="drop-input" aria-label="Files dropped onto the collection" />
        <Trouble error={error} />
        <UploadList />
        {data?.items.length === 0 && (
          <Empty title="Nothing taken in yet.">
            Drop photographs, scans, films or whole folders here, or choose them above. Originals are put away unchanged with their
            checksums; each is examined and gets a proposed plan.
          </Empty>
        )}
        {data && data.items.length > 0 && (
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(240px,1fr))] gap-x-5 gap-y-6" aria-label="Items">
            {data.items.map((item) => (
              <ItemCard key={item.id} item={item} />
            ))}
          </ul>
        )}
        {isDragActive && (
          <div className="pointer-events-none absolute inset-2 grid place-items-center border-2 border-act bg-act2/90 text-[18px] font-semibold">
            Let go to take these in
          </div>
        )}
      </main>
    </Shell>
  );
}

function ItemCard({ item }: { item: Item }) {
  const { stream } = item.facts;
  const faults = item.condition?.findings.filter((f) => f.severity !== 'none') ?? [];
  return (
    <li data-testid="item" data-state={item.state}>
      <Link href={`/items/${item.id}`} className="block">
        <div className="grid h-[180px] place-items-center bg-[#777]">
          {item.state === 'examining' ? (
            <span className="text-white">being examined…</span>
          ) : item.state === 'failed' ? (
            <span className="text-white">no picture</span>
          ) : (
            // A thumbnail of the archive's own; the framework's image service would only copy it.
            // eslint-disable-next-line @next/next/no-img-element
            <img src={`/api/items/${item.id}/thumbnail`} alt="" className="max-h-[180px] max-w-full" />
          )}
        </div>
        <p className="serif mt-1.5 truncate text-[14px]">{item.name}</p>
      </Link>
      <p className="text-ink2">
        {stream.width} × {stream.height}
        {item.kind === 'moving'
          ? ` · ${shapeText(stream)} · ${rate(stream.rate)} · ${duration(item.facts.duration)}`
          : ` · ${bytes(item.bytes)}`}
      </p>
      {item.state === 'failed' && <p className="text-warn">{item.message}</p>}
      {item.facts.damage.length > 0 && <p className="text-warn">damaged: {item.facts.damage[0]}</p>}
      {item.condition && (
        <p className="line-clamp-2">
          {faults.length ? faults.map((f) => `${f.name.toLowerCase()}: ${f.reading}`).join(' · ') : 'no fault measured'}
        </p>
      )}
    </li>
  );
}
