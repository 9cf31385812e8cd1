'use client';

import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import type { PersonAnswer } from '../../archive';
import { ABOUT_LIMITS } from '../../shared/about';
import { Sheet, SheetButtons } from '../parts/ask';
import { inOrder, type PeopleActions, nameOf, yearsOf } from './actions';
import { FaceGrid } from './faceGrid';

interface PersonDetailProps {
  person: PersonAnswer;
  persons: readonly PersonAnswer[];
  actions: PeopleActions;
}

/** Who somebody is, and all pictures of them. */
export function PersonDetail({ person, persons, actions }: PersonDetailProps) {
  const [forgetting, setForgetting] = useState(false);
  const others = inOrder(persons).filter((p) => p !== person);
  const name = nameOf(person, persons);
  return (
    <div className="px-[14px] py-3">
      <div className="mb-4 flex flex-wrap items-end gap-3 border-b pb-3">
        <label className="grid gap-[2px] text-ink2">
          Name
          <input
            className="field serif h-[28px] w-[260px] text-[15px]"
            defaultValue={person.name}
            maxLength={ABOUT_LIMITS.line}
            placeholder="who is this?"
            onBlur={(e) => e.target.value.trim() !== person.name && void actions.tell(person.id, { name: e.target.value.trim() })}
            onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
          />
        </label>
        <Year name="Born" value={person.born} tell={(born) => actions.tell(person.id, { born })} />
        <Year name="Died" value={person.died} tell={(died) => actions.tell(person.id, { died })} />
        <span className="flex-1" />
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger className="btn" disabled={!others.length}>
            Is the same as…
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content
              align="end"
              sideOffset={4}
              className="z-20 max-h-[60vh] min-w-[180px] overflow-auto border border-rule2 bg-sheet py-1"
            >
              {others.map((other) => (
                <DropdownMenu.Item
                  key={other.id}
                  className="block cursor-pointer px-3 py-1 outline-none data-[highlighted]:bg-ink data-[highlighted]:text-paper"
                  onSelect={() => void actions.say({ action: 'merge', into: person.id, from: other.id })}
                >
                  {nameOf(other, persons)} {yearsOf(other)}
                </DropdownMenu.Item>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
        <button type="button" className="btn" onClick={() => setForgetting(true)}>
          Forget…
        </button>
      </div>
      <FaceGrid faces={person.faces} persons={persons} actions={actions} of={person} />
      <Sheet title={`Forget ${name}?`} open={forgetting} onOpenChange={setForgetting}>
        <form
          onSubmit={(e) => {
            e.preventDefault();
            void actions.say({ action: 'forget', person: person.id }).then(() => setForgetting(false));
          }}
        >
          <p className="mb-2">
            Name and years, the {person.faces.length} small portraits and all descriptions of this face are removed from the archive and
            from the copies of its database. The pictures stay as they are; this face is not looked for in them again.
          </p>
          <p className="text-warn">This cannot be taken back, nor can what was done to people before it.</p>
          <SheetButtons cancel={() => setForgetting(false)} submit="Forget this person" />
        </form>
      </Sheet>
    </div>
  );
}

function Year({ name, value, tell }: { name: string; value: number | null; tell(year: number | null): Promise<boolean> }) {
  return (
    <label className="grid gap-[2px] text-ink2">
      {name}
      <input
        // What was refused goes back to what is kept.
        key={value}
        type="number"
        className="field h-[28px] w-[76px]"
        defaultValue={value ?? ''}
        placeholder="year"
        onBlur={(e) => {
          const field = e.target;
          const year = field.value === '' ? null : Number(field.value);
          if (year !== value)
            void tell(year).then((kept) => {
              if (!kept) field.value = String(value ?? '');
            });
        }}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
    </label>
  );
}
