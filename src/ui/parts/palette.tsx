'use client';

import { useQuery } from '@tanstack/react-query';
import { Command as Palette } from 'cmdk';
import { useRouter } from 'next/navigation';
import { Dialog } from 'radix-ui';
import { useDeferredValue, useState } from 'react';
import type { CollectionSummary, FoundItem } from '../../archive';
import { api } from './api';
import { Sheet } from './ask';
import { grouped, useCommandState, type Command } from './commands';
import { PLACES } from './places';

/** Finds places, collections, items, treatments and actions by name, and lists the keys. */
export function CommandPalette() {
  const finding = useCommandState((s) => s.finding);
  const listing = useCommandState((s) => s.listing);
  return (
    <>
      <Dialog.Root open={finding} onOpenChange={(open) => useCommandState.setState({ finding: open })}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-20 bg-black/40" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed top-[12vh] left-1/2 z-30 w-[620px] max-w-[92vw] -translate-x-1/2 border border-rule2 bg-paper text-ink"
          >
            <Dialog.Title className="sr-only">Find</Dialog.Title>
            {finding && <Finder close={() => useCommandState.setState({ finding: false })} />}
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
      <Sheet title="Keys" open={listing} onOpenChange={(open) => useCommandState.setState({ listing: open })}>
        <KeyList />
      </Sheet>
    </>
  );
}

function Finder({ close }: { close: () => void }) {
  const router = useRouter();
  const known = useCommandState((s) => s.known);
  const [typed, setTyped] = useState('');
  const words = useDeferredValue(typed.trim());
  const collections = useQuery({ queryKey: ['collections'], queryFn: () => api<CollectionSummary[]>('collections') });
  const items = useQuery({
    queryKey: ['search', words],
    queryFn: () => api<FoundItem[]>(`search?q=${encodeURIComponent(words)}`),
    placeholderData: (old) => old,
  });
  const go = (href: string) => (): void => {
    close();
    router.push(href);
  };
  const groups = grouped(Object.values(known).flat());
  return (
    <Palette label="Find" loop filter={likeness} className="flex flex-col">
      <Palette.Input
        value={typed}
        onValueChange={setTyped}
        placeholder="A place, an item, a treatment, something to do"
        className="h-10 border-b bg-sheet px-4 text-[15px] outline-none placeholder:text-ink3"
      />
      <Palette.List className="max-h-[52vh] overflow-y-auto py-1">
        <Palette.Empty className="px-4 py-3 text-ink2">Nothing of that name.</Palette.Empty>
        <Group heading="Places">
          {PLACES.map((p) => (
            <Entry key={p.href} value={`place ${p.href}`} onSelect={go(p.href)} name={p.name} />
          ))}
        </Group>
        {[...groups].map(([group, commands]) => (
          <Group key={group} heading={group}>
            {commands.map((c) => (
              <Entry
                key={c.id}
                value={`${group} ${c.id}`}
                name={c.name}
                keys={c.shown}
                onSelect={() => {
                  close();
                  c.run();
                  c.released?.();
                }}
              />
            ))}
          </Group>
        ))}
        <Group heading="Items">
          {items.data?.map((i) => (
            <Entry key={i.id} value={`item ${i.id}`} name={i.name} more={i.collection} onSelect={go(`/items/${i.id}`)} />
          ))}
        </Group>
        <Group heading="Collections">
          {collections.data?.map((c) => (
            <Entry key={c.id} value={`collection ${c.id}`} name={c.name} onSelect={go(`/collections/${c.id}`)} />
          ))}
        </Group>
      </Palette.List>
    </Palette>
  );
}

/** How well a name answers what was typed: every word of it must begin a word of the name, or at least be in it. */
function likeness(_value: string, typed: string, [name = '']: string[] = []): number {
  const within = name.toLowerCase();
  let worst = 1;
  for (const word of typed.toLowerCase().split(/\s+/).filter(Boolean)) {
    const at = within.indexOf(word);
    if (at < 0) return 0;
    worst = Math.min(worst, at === 0 ? 1 : /[^\p{L}\p{N}]/u.test(within[at - 1]) ? 0.8 : 0.4);
  }
  return worst;
}

function Group({ heading, children }: { heading: string; children: React.ReactNode }) {
  return (
    <Palette.Group
      heading={heading}
      className="[&_[cmdk-group-heading]]:px-4 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-0.5 [&_[cmdk-group-heading]]:text-[12px] [&_[cmdk-group-heading]]:text-ink2"
    >
      {children}
    </Palette.Group>
  );
}

function Entry({ value, name, more, keys, onSelect }: { value: string; name: string; more?: string; keys?: string; onSelect: () => void }) {
  return (
    <Palette.Item
      value={value}
      keywords={[name]}
      onSelect={onSelect}
      className="flex cursor-pointer items-baseline justify-between gap-4 px-4 py-1 data-[selected=true]:bg-ink data-[selected=true]:text-paper"
    >
      <span className="truncate">{name}</span>
      {more && <span className="truncate opacity-80">{more}</span>}
      {keys && <span className="shrink-0 opacity-80">{keys}</span>}
    </Palette.Item>
  );
}

/** What no command says: the pointer's ways. */
const POINTER: [string, string][] = [
  ['Wheel, pinch', 'zoom at the pointer'],
  ['Drag', 'move the picture; from the loupe, the loupe'],
  ['Double click', 'bring the loupe'],
  ['Alt ↑ ↓', 'in a number: a tenth of a step; with Shift, ten steps'],
];

function KeyList() {
  const known = useCommandState((s) => s.known);
  const withKeys = Object.values(known)
    .flat()
    .filter((c): c is Command & { shown: string } => c.shown !== undefined);
  const groups = grouped(withKeys);
  // Only the bench has a picture to point at.
  const bench = groups.has('Picture');
  return (
    <div className="max-h-[64vh] overflow-y-auto" tabIndex={0} role="group" aria-label="List of keys">
      <div className="columns-2 gap-6">
        {[...groups].map(([group, commands]) => (
          <KeyGroup key={group} name={group} rows={commands.map((c) => [c.shown, c.name])} />
        ))}
        {bench && <KeyGroup name="Pointer and numbers" rows={POINTER} />}
      </div>
    </div>
  );
}

function KeyGroup({ name, rows }: { name: string; rows: [string, string][] }) {
  return (
    <section className="mb-3 break-inside-avoid">
      <h3 className="mb-1 text-ink2">{name}</h3>
      <dl className="grid grid-cols-[84px_1fr] gap-y-1">
        {rows.map(([keys, does]) => (
          <div key={does} className="contents">
            <dt className="font-semibold">{keys}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
