'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import type { InPictureAnswer } from '../../../archive';
import { api } from '../../parts/api';
import { useBench } from '../state/store';

/** Who was found in a still or along a film, from the left; their names can be taken over into what is told of it. */
export function InPicture({ take }: { take(names: string[]): void }) {
  const item = useBench((s) => s.item);
  const { data = [], isLoading } = useQuery({
    queryKey: ['people-in', item.id],
    queryFn: () => api<InPictureAnswer[]>(`items/${item.id}/people`),
  });
  if (isLoading) return <p className="text-ink2">Faces are looked for…</p>;
  if (data.length === 0) return null;
  const names = data.flatMap(({ name }) => name ?? []);
  return (
    <div role="group" aria-label="Found in the picture">
      <ul className="mb-1 flex flex-wrap gap-[6px]">
        {data.map(({ face, name }) => (
          <li key={face} className="w-[52px]">
            {/* eslint-disable-next-line @next/next/no-img-element */}
            <img src={`/api/appearances/${face}`} alt="" className="h-[52px] w-[52px] bg-surround" />
            <span className="block truncate text-ink2" title={name}>
              {name ?? 'no name'}
            </span>
          </li>
        ))}
      </ul>
      <div className="flex items-baseline gap-3">
        <button type="button" className="btn" disabled={names.length === 0} onClick={() => take(names)}>
          Write these names
        </button>
        <Link href={`/people/${item.collectionId}`} className="quiet">
          People
        </Link>
      </div>
    </div>
  );
}
