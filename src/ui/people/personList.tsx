'use client';

import type { AppearanceAnswer, PersonAnswer } from '../../archive';
import { faceOf, inOrder, nameOf, portrait, yearsOf } from './actions';

/** Stands for the faces that are nobody's yet. */
export const SINGLE = 'single';

interface PersonListProps {
  persons: readonly PersonAnswer[];
  single: readonly AppearanceAnswer[];
  chosen?: string;
  choose(id: string): void;
}

/** All persons, and those who are nobody's yet. */
export function PersonList({ persons, single, chosen, choose }: PersonListProps) {
  const row = 'flex w-full items-center gap-3 border-b px-[14px] py-[6px] text-left aria-[current]:bg-ink aria-[current]:text-paper';
  return (
    <nav aria-label="Persons" className="w-[270px] shrink-0 overflow-auto border-r">
      {inOrder(persons).map((person) => {
        const face = faceOf(person);
        const years = yearsOf(person);
        return (
          <button
            key={person.id}
            type="button"
            className={row}
            aria-current={chosen === person.id ? 'true' : undefined}
            onClick={() => choose(person.id)}
          >
            {/* eslint-disable-next-line @next/next/no-img-element */}
            {face ? <img src={portrait(face)} alt="" className="h-12 w-12 bg-surround" /> : <span className="h-12 w-12 bg-paper2" />}
            <span className="min-w-0 flex-1">
              <span className={`block truncate ${person.name ? 'serif text-[14px]' : 'opacity-80'}`}>{nameOf(person, persons)}</span>
              <span className="block truncate opacity-80 tabular-nums">
                {person.faces.length} {person.faces.length === 1 ? 'picture' : 'pictures'}
                {years && ` · ${years}`}
              </span>
            </span>
          </button>
        );
      })}
      {single.length > 0 && (
        <button type="button" className={row} aria-current={chosen === SINGLE ? 'true' : undefined} onClick={() => choose(SINGLE)}>
          <span className="grid h-12 w-12 place-items-center bg-paper2 text-ink tabular-nums">{single.length}</span>
          Seen once, or not known
        </button>
      )}
    </nav>
  );
}
