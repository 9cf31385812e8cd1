'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import type { Delivery } from '../../archive';
import { api } from '../parts/api';
import { bytes } from '../parts/format';
import { Empty, Trouble } from '../parts/empty';
import { Shell } from '../parts/shell';
import { CheckAll, Fixity, moment } from './fixity';

const KIND_WORDS = {
  original: 'Original',
  master: 'Restored master',
  monochrome: 'Without added colours',
  access: 'Access copy',
  subtitles: 'Subtitles',
  sheet: 'Before and after',
  print: 'Print',
  provenance: 'Provenance record',
} as const;

/** What was handed over: files with their checksums, and what became of each track. */
export function Deliveries() {
  const { data, error } = useQuery({ queryKey: ['deliveries'], queryFn: () => api<Delivery[]>('deliveries'), refetchInterval: 4000 });
  return (
    <Shell trail={<h1 className="text-[15px]">Deliveries</h1>}>
      <main className="flex-1 overflow-auto px-[14px] py-3">
        <CheckAll />
        <Trouble error={error} />
        {data?.length === 0 && (
          <Empty title="Nothing delivered yet.">
            When a job is done, its original, master, access copy and provenance record stand here with their checksums.
          </Empty>
        )}
        {data?.map((d) => (
          <section key={d.id} className="mb-7" data-testid="delivery" aria-label={d.itemName}>
            <div className="flex items-baseline gap-3">
              <Link href={`/items/${d.itemId}`} className="serif text-[15px] hover:underline">
                {d.itemName}
              </Link>
              <span className="text-ink2">
                {d.collectionName} · {moment(d.created)} · folder deliveries/{d.folder}
              </span>
              <span className="flex-1" />
              <Fixity delivery={d} />
            </div>
            <table className="table mt-1">
              <thead>
                <tr>
                  <th className="w-[150px]">Kind</th>
                  <th>File</th>
                  <th className="num">Size</th>
                  <th>SHA-256</th>
                  <th>Note</th>
                </tr>
              </thead>
              <tbody>
                {d.files.map((f) => (
                  <tr key={f.fileName}>
                    <td>{KIND_WORDS[f.kind]}</td>
                    <td>
                      <a className="quiet" href={`/api/deliveries/${d.id}/${encodeURIComponent(f.fileName)}`}>
                        {f.fileName}
                      </a>
                    </td>
                    <td className="num">{bytes(f.bytes)}</td>
                    <td className="text-[12px] text-ink2" title={f.sha256}>
                      {f.sha256.slice(0, 16)}…
                    </td>
                    <td className="text-ink2">{f.note}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            {d.notes.length > 0 && (
              <ul className="mt-1 text-ink2">
                {d.notes.map((n) => (
                  <li key={n}>{n}</li>
                ))}
              </ul>
            )}
          </section>
        ))}
      </main>
    </Shell>
  );
}
