'use client';

import { DropdownMenu } from 'radix-ui';
import Link from 'next/link';
import { useState } from 'react';
import type { AppearanceAnswer, PersonAnswer } from '../../archive';
import { yearBeside } from '../parts/format';
import { inOrder, type PeopleActions, nameOf, portrait } from './actions';

interface FaceGridProps {
  faces: readonly AppearanceAnswer[];
  persons: readonly PersonAnswer[];
  actions: PeopleActions;
  /** Whose faces they are. */
  of?: PersonAnswer;
}

const ITEM = 'block cursor-pointer px-3 py-1 outline-none data-[highlighted]:bg-ink data-[highlighted]:text-paper';

/** Faces to look through and to choose among; what is done with those chosen stands above them. */
export function FaceGrid({ faces, persons, actions, of }: FaceGridProps) {
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const chosen = faces.filter(({ id }) => picked.has(id)).map(({ id }) => id);
  const turn = (id: string): void =>
    setPicked((old) => {
      const next = new Set(old);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const move = (to: string | null): void =>
    void actions.say({ action: 'move', faces: chosen, to }).then((kept) => kept && setPicked(new Set()));
  const best = new Map(of?.references.map(({ face, span }) => [face, span]));
  return (
    <>
      <div role="toolbar" aria-label="Chosen faces" className="mb-3 flex h-[24px] items-center gap-2">
        <span className="w-[8em] text-ink2 tabular-nums">{chosen.length ? `${chosen.length} chosen` : 'none chosen'}</span>
        <button type="button" className="btn" disabled={!chosen.length} onClick={() => move('new')}>
          {of ? 'Somebody else' : 'One person'}
        </button>
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger className="btn" disabled={!chosen.length || persons.every((p) => p === of)}>
            This is…
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content
              align="start"
              sideOffset={4}
              className="z-20 max-h-[60vh] min-w-[180px] overflow-auto border border-rule2 bg-sheet py-1"
            >
              {inOrder(persons)
                .filter((p) => p !== of)
                .map((p) => (
                  <DropdownMenu.Item key={p.id} className={ITEM} onSelect={() => move(p.id)}>
                    {nameOf(p, persons)}
                  </DropdownMenu.Item>
                ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
        <button
          type="button"
          className="btn"
          disabled={!chosen.length}
          title="Taken out of People; the picture stays as it is"
          onClick={() => void actions.say({ action: 'dismiss', faces: chosen })}
        >
          Take out
        </button>
      </div>
      <ul aria-label="Faces" className="grid grid-cols-[repeat(auto-fill,minmax(132px,1fr))] gap-x-4 gap-y-5">
        {faces.map((face) => (
          <li key={face.id} data-testid="face" className="min-w-0">
            <label className="relative block cursor-pointer">
              {/* eslint-disable-next-line @next/next/no-img-element */}
              <img
                src={portrait(face.id)}
                alt=""
                loading="lazy"
                className={`aspect-square w-full bg-surround ${picked.has(face.id) ? 'outline-2 outline-offset-2 outline-ink' : ''}`}
              />
              <input
                type="checkbox"
                className="absolute right-1 top-1 h-4 w-4 accent-[var(--act)]"
                aria-label={`Choose the face in ${face.itemName}`}
                checked={picked.has(face.id)}
                onChange={() => turn(face.id)}
              />
            </label>
            <Link href={`/items/${face.itemId}`} className="mt-1 block truncate hover:underline" title={face.itemName}>
              {face.itemName}
            </Link>
            <p className="truncate text-ink2 tabular-nums">
              {[yearBeside(face.itemName, face.year), face.age !== undefined && `aged ${face.age}`, `${face.pixels} px`, along(face)]
                .filter(Boolean)
                .join(' · ')}
            </p>
            {best.has(face.id) && <p className="truncate text-act">{spanWords(best.get(face.id))}</p>}
          </li>
        ))}
      </ul>
    </>
  );
}

/** The frames in which a film shows a face. */
const along = ({ along: span }: AppearanceAnswer): string => (span ? `frames ${span.first}–${span.last}` : '');

const spanWords = (span: [number, number] | undefined): string => {
  if (!span) return 'best reference';
  return span[1] > 120 ? `best from ${span[0]} on` : `best of ${span[0]} to ${span[1] - 1}`;
};
