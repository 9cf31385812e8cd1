'use client';

import Link from 'next/link';
import { useCallback, useMemo, useState } from 'react';
import type { AppearanceAnswer, PeopleAnswer } from '../../archive';
import { type Command, useCommands } from '../parts/commands';
import { yearBeside } from '../parts/format';
import { nameOf, type PeopleActions, portrait } from './actions';

type Said = 'same' | 'different' | 'unsure';

const CHOICES: { said: Said; name: string; key: string }[] = [
  { said: 'same', name: 'One person', key: 'y' },
  { said: 'different', name: 'Two people', key: 'n' },
  { said: 'unsure', name: 'Cannot tell', key: 'u' },
];

/** Pairs of faces that may be one person, one pair after another, answered by three keys. */
export function PairReview({ people, actions }: { people: PeopleAnswer; actions: PeopleActions }) {
  const [busy, setBusy] = useState(false);
  const [pair] = people.questions;
  const answer = useCallback(
    (said: Said) => {
      if (busy) return;
      setBusy(true);
      void actions.say({ action: 'answer', a: pair.a, b: pair.b, said }).finally(() => setBusy(false));
    },
    [actions, busy, pair],
  );
  useCommands(
    useMemo(
      (): Command[] =>
        CHOICES.map(({ said, name, key }) => ({
          ...{ id: `pair-${said}`, name: `Unsure pair: ${name.toLowerCase()}`, group: 'People', keys: [key], shown: key.toUpperCase() },
          run: () => answer(said),
        })),
      [answer],
    ),
  );
  return (
    <div className="flex h-full flex-col items-center justify-center gap-5 px-[14px] py-3">
      <p className="text-ink2 tabular-nums">Is this one person? {people.questions.length} to go.</p>
      <div className="flex gap-6">
        {[pair.a, pair.b].map((id) => (
          <Side key={id} id={id} people={people} />
        ))}
      </div>
      <div className="flex gap-3" role="group" aria-label="Answer">
        {CHOICES.map(({ said, name, key }) => (
          <button key={said} type="button" className="btn h-[30px]" disabled={busy} onClick={() => answer(said)}>
            {name} <kbd className="key">{key.toUpperCase()}</kbd>
          </button>
        ))}
      </div>
    </div>
  );
}

/** One of the two: the face, where it is from, and others that it is already with. */
function Side({ id, people }: { id: string; people: PeopleAnswer }) {
  const person = people.persons.find(({ faces }) => faces.some((face) => face.id === id));
  const face: AppearanceAnswer | undefined = (person?.faces ?? people.single).find((one) => one.id === id);
  const others = person?.faces.filter((one) => one.id !== id).slice(0, 4) ?? [];
  return (
    <figure className="w-[300px]">
      {/* eslint-disable-next-line @next/next/no-img-element */}
      <img src={portrait(id)} alt="" className="h-[300px] w-[300px] bg-surround" />
      <figcaption className="mt-2">
        <span className="serif block truncate text-[14px]">{person ? nameOf(person, people.persons) : 'Not known yet'}</span>
        {face && (
          <span className="block truncate text-ink2">
            <Link href={`/items/${face.itemId}`} className="hover:underline">
              {face.itemName}
            </Link>
            {[yearBeside(face.itemName, face.year), face.age !== undefined && `aged ${face.age}`]
              .filter(Boolean)
              .map((said) => ` · ${said}`)}
          </span>
        )}
        <span className="mt-2 flex h-[52px] gap-2">
          {others.map((one) => (
            // eslint-disable-next-line @next/next/no-img-element
            <img key={one.id} src={portrait(one.id)} alt="" className="h-[52px] w-[52px] bg-surround" />
          ))}
        </span>
      </figcaption>
    </figure>
  );
}
