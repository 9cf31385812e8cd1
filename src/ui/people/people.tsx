'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import type { CollectionSummary } from '../../archive';
import { api } from '../parts/api';
import { Empty, Trouble } from '../parts/empty';
import { Shell } from '../parts/shell';

/** Whose people are looked at: a collection is one family's, and faces are put together within it alone. */
export function PeopleCollections() {
  const { data, error } = useQuery({ queryKey: ['collections'], queryFn: () => api<CollectionSummary[]>('collections') });
  return (
    <Shell trail={<h1 className="text-[15px]">People</h1>}>
      <main className="min-h-0 flex-1 overflow-auto px-[14px] py-4">
        <Trouble error={error} />
        {data?.length === 0 && <Empty title="Nobody yet.">People are found in the pictures of a collection. Take some in first.</Empty>}
        {data && data.length > 0 && (
          <ul aria-label="Collections" className="max-w-[46em]">
            {data.map(({ id, name, items, note }) => (
              <li key={id} className="flex items-baseline gap-4 border-b py-2">
                <Link href={`/people/${id}`} className="serif text-[15px] hover:underline">
                  {name}
                </Link>
                <span className="min-w-0 flex-1 truncate text-ink2">{note}</span>
                <span className="num text-ink2">{items} items</span>
              </li>
            ))}
          </ul>
        )}
      </main>
    </Shell>
  );
}
