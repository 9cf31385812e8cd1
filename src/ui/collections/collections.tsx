'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { Fragment, useState, type FormEvent } from 'react';
import type { Collection, CollectionSummary } from '../../archive';
import { api } from '../parts/api';
import { Sheet } from '../parts/ask';
import { Empty, Trouble } from '../parts/empty';
import { Shell } from '../parts/shell';
import type { CollectionRequest } from '../../shared/requests';

/** The table of collections. */
export function Collections() {
  const { data, error } = useQuery({ queryKey: ['collections'], queryFn: () => api<CollectionSummary[]>('collections') });
  const [asking, setAsking] = useState(false);
  return (
    <Shell
      trail={<h1 className="text-[15px]">Collections</h1>}
      actions={
        <button type="button" className="btn btn-act" onClick={() => setAsking(true)}>
          New collection
        </button>
      }
    >
      <main className="flex-1 overflow-auto px-[14px] py-4">
        <Trouble error={error} />
        {data?.length === 0 && (
          <Empty
            title="No collection yet."
            action={
              <button type="button" className="btn btn-act" onClick={() => setAsking(true)}>
                New collection
              </button>
            }
          >
            A collection holds everything of one client, family or fonds. Make one, then drop photographs and films onto it.
          </Empty>
        )}
        {data && data.length > 0 && (
          <table className="table">
            <thead>
              <tr>
                <th className="w-[36%]">Name</th>
                <th>Note</th>
                <th className="num">Items</th>
                <th className="num">Left to deliver</th>
                <th>Due</th>
              </tr>
            </thead>
            <tbody>
              {data.map((c) => (
                <Fragment key={c.id}>
                  <tr className={c.shown.length ? '[&>td]:border-b-0' : ''}>
                    <td>
                      <Link href={`/collections/${c.id}`} className="serif text-[15px] hover:underline">
                        {c.name}
                      </Link>
                    </td>
                    <td className="text-ink2">{c.note}</td>
                    <td className="num">{c.items}</td>
                    <td className="num">{c.items - c.delivered}</td>
                    <td>{c.due ?? 'no date'}</td>
                  </tr>
                  {c.shown.length > 0 && (
                    <tr>
                      <td colSpan={5}>
                        <SomeItems collection={c} />
                      </td>
                    </tr>
                  )}
                </Fragment>
              ))}
            </tbody>
          </table>
        )}
      </main>
      <NewCollection open={asking} onOpenChange={setAsking} />
    </Shell>
  );
}

/** What a collection holds, as far as it fits on one line; a picture opens its item. */
function SomeItems({ collection: { name, shown } }: { collection: CollectionSummary }) {
  return (
    <ul className="-mt-1 flex h-[84px] flex-wrap gap-[6px] overflow-hidden" aria-label={`Some items of ${name}`}>
      {shown.map(({ id, name: item }) => (
        <li key={id} className="bg-surround">
          <Link href={`/items/${id}`} tabIndex={-1} title={item} aria-label={item}>
            {/* A thumbnail of the archive's own; the framework's image service would only copy it. */}
            {/* eslint-disable-next-line @next/next/no-img-element */}
            <img src={`/api/items/${id}/thumbnail`} alt="" className="h-[84px] max-w-[170px] object-cover" decoding="async" />
          </Link>
        </li>
      ))}
    </ul>
  );
}

function NewCollection({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const router = useRouter();
  const queries = useQueryClient();
  const [problem, setProblem] = useState('');
  const submit = async (event: FormEvent<HTMLFormElement>): Promise<void> => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const due = form.get('due') as string;
    try {
      const made = await api<Collection>('collections', {
        method: 'POST',
        json: { name: form.get('name') as string, note: form.get('note') as string, ...(due && { due }) } satisfies CollectionRequest,
      });
      await queries.invalidateQueries({ queryKey: ['collections'] });
      router.push(`/collections/${made.id}`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Sheet title="New collection" open={open} onOpenChange={onOpenChange}>
      <form onSubmit={(e) => void submit(e)} className="grid grid-cols-[90px_1fr] items-center gap-x-3 gap-y-3">
        <label htmlFor="name">Name</label>
        <input id="name" name="name" required className="field" autoFocus />
        <label htmlFor="note">Note</label>
        <input id="note" name="note" className="field" />
        <label htmlFor="due">Due</label>
        <input id="due" name="due" type="date" className="field w-40" />
        {problem && (
          <p role="alert" className="col-span-2 text-warn">
            {problem}
          </p>
        )}
        <div className="col-span-2 mt-2 flex justify-end gap-2">
          <button type="button" className="btn" onClick={() => onOpenChange(false)}>
            Cancel
          </button>
          <button type="submit" className="btn btn-act">
            Make it
          </button>
        </div>
      </form>
    </Sheet>
  );
}
