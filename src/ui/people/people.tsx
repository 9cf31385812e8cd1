'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import type { CollectionSummary } from '../../archive';
import { api } from '../parts/api';
import { Empty, Trouble } from '../parts/empty';
import { Shell } from '../parts/shell';
import { portrait } from './actions';

/** Whose people are looked at: a collection is one family's, and faces are put together within it alone. */
export function PeopleCollections() {
  const { data, error } = useQuery({ queryKey: ['collections'], queryFn: () => api<CollectionSummary[]>('collections') });
  return (
    <Shell trail={<h1 className="text-[15px]">People</h1>}>
      <main className="min-h-0 flex-1 overflow-auto px-[14px] py-4">
        <Trouble error={error} />
        {data?.length === 0 && <Empty title="Nobody yet.">People are found in the pictures of a collection. Take some in first.</Empty>}
        {data && data.length > 0 && (
          <ul aria-label="Collections" className="max-w-[76em]">
            {data.map(({ id, name, items, note, people, faces }) => (
              <li key={id} className="border-b py-2">
                <span className="flex items-baseline gap-4">
                  <Link href={`/people/${id}`} className="serif text-[15px] hover:underline">
                    {name}
                  </Link>
                  <span className="min-w-0 flex-1 truncate text-ink2">{note}</span>
                  <span className="num text-ink2">
                    {people ? `${people} ${people === 1 ? 'person' : 'people'} in ` : ''}
                    {items} {items === 1 ? 'item' : 'items'}
                  </span>
                </span>
                {faces.length > 0 && (
                  <Link href={`/people/${id}`} tabIndex={-1} aria-hidden className="mt-2 flex h-[72px] flex-wrap gap-[6px] overflow-hidden">
                    {faces.map((face) => (
                      // eslint-disable-next-line @next/next/no-img-element
                      <img key={face} src={portrait(face)} alt="" className="h-[72px] w-[72px] bg-surround" />
                    ))}
                  </Link>
                )}
              </li>
            ))}
          </ul>
        )}
      </main>
    </Shell>
  );
}
