'use client';

import { DropdownMenu } from 'radix-ui';
import { CONTACT_SHEET } from '../../shared/print';

/** Pages that are offered singly, as PNG. */
const MOST_PAGES = 12;

interface SheetMenuProps {
  collection: string;
  /** Ids of the items it shows; all when none. */
  chosen: ReadonlySet<string>;
  items: number;
}

/** The contact sheet of a collection, or of what is chosen in it, to print or to send to the client. */
export function SheetMenu({ collection, chosen, items }: SheetMenuProps) {
  const shown = chosen.size || items;
  const pages = Math.ceil(shown / (CONTACT_SHEET.columns * CONTACT_SHEET.rows));
  const address = (as: string): string =>
    `/api/collections/${collection}/sheet?as=${as}${chosen.size ? `&items=${[...chosen].join(',')}` : ''}`;
  const links = [
    { name: `PDF, ${pages} ${pages === 1 ? 'page' : 'pages'}`, href: address('pdf') },
    ...Array.from({ length: Math.min(pages, MOST_PAGES) }, (_, n) => ({
      name: pages === 1 ? 'PNG' : `PNG, page ${n + 1}`,
      href: `${address('png')}&page=${n + 1}`,
    })),
  ];
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="btn">Contact sheet</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className="z-20 min-w-[180px] border border-rule2 bg-sheet py-1">
          <DropdownMenu.Label className="px-3 py-1 text-ink2">
            {chosen.size ? `The ${chosen.size} chosen` : 'All of the collection'}
          </DropdownMenu.Label>
          {links.map(({ name, href }) => (
            <DropdownMenu.Item key={href} asChild>
              <a href={href} className="block px-3 py-1 outline-none data-[highlighted]:bg-ink data-[highlighted]:text-paper">
                {name}
              </a>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
