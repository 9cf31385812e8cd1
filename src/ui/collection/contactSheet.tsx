'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import Link from 'next/link';
import { memo, useRef } from 'react';
import type { Item } from '../../archive';
import { openSoon } from './openAhead';
import { bytes, duration, rate, shapeText } from '../parts/format';
import { useSize } from '../parts/size';

/** Least width of a card, height of a row, and the blanks between, pixels. */
const CARD = 240,
  ROW = 300,
  GAP = 20,
  SIDE = 14;

/** Items as cards; only the rows in view are made, so that thousands scroll smoothly. */
export function ContactSheet({
  items,
  pictured,
  chosen,
  turn,
}: {
  items: Item[];
  /** Of those that are not examined yet, or could not be, the ones that have a thumbnail. */
  pictured: readonly string[];
  chosen: ReadonlySet<string>;
  turn: (id: string) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const columns = Math.max(1, Math.floor((width - 2 * SIDE + GAP) / (CARD + GAP)));
  // What it returns is used here alone, so nothing memoised goes stale.
  // eslint-disable-next-line react-hooks/incompatible-library
  const rows = useVirtualizer({
    count: Math.ceil(items.length / columns),
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 2,
    paddingStart: 16,
  });
  return (
    <div ref={box} className="min-h-0 flex-1 overflow-auto" data-testid="sheet" tabIndex={-1}>
      <ul className="relative" style={{ height: rows.getTotalSize() }} aria-label="Items">
        {width > 0 &&
          rows
            .getVirtualItems()
            .flatMap((row) =>
              items
                .slice(row.index * columns, (row.index + 1) * columns)
                .map((item, n) => (
                  <ItemCard
                    key={item.id}
                    item={item}
                    pictured={item.state === 'ready' || pictured.includes(item.id)}
                    chosen={chosen.has(item.id)}
                    turn={turn}
                    top={row.start}
                    left={SIDE + (n * (width - 2 * SIDE + GAP)) / columns}
                    width={(width - 2 * SIDE + GAP) / columns - GAP}
                  />
                )),
            )}
      </ul>
    </div>
  );
}

const ItemCard = memo(function ItemCard({
  item,
  pictured,
  chosen,
  turn,
  top,
  left,
  width,
}: {
  item: Item;
  /** Whether there is a thumbnail. */
  pictured: boolean;
  chosen: boolean;
  turn: (id: string) => void;
  top: number;
  left: number;
  width: number;
}) {
  const { stream } = item.facts;
  const faults = item.condition?.findings.filter((f) => f.severity !== 'none') ?? [];
  return (
    <li
      data-testid="item"
      data-state={item.state}
      onPointerEnter={() => openSoon(item)}
      onPointerLeave={() => openSoon(undefined)}
      onFocus={() => openSoon(item)}
      className={`absolute ${chosen ? 'outline-2 outline-offset-4 outline-ink' : ''}`}
      style={{ width, height: ROW - 24, transform: `translate(${left}px, ${top}px)` }}
    >
      {/* The name is the link for keyboard and screen reader; the picture is one for the pointer. */}
      <Link href={`/items/${item.id}`} className="grid h-[180px] place-items-center bg-[#777]" tabIndex={-1} aria-hidden>
        {!pictured ? (
          <span className="text-white">{item.state === 'failed' ? 'no picture' : 'waits to be examined'}</span>
        ) : (
          // A thumbnail of the archive's own; the framework's image service would only copy it.
          // eslint-disable-next-line @next/next/no-img-element
          <img src={`/api/items/${item.id}/thumbnail`} alt="" className="max-h-[180px] max-w-full" decoding="async" />
        )}
      </Link>
      <div className="mt-2 flex h-[24px] items-center gap-3">
        <Link href={`/items/${item.id}`} className="serif min-w-0 flex-1 truncate text-[14px]">
          {item.name}
        </Link>
        <input
          type="checkbox"
          className="h-4 w-4 shrink-0 accent-[var(--act)]"
          aria-label={`Choose ${item.name}`}
          checked={chosen}
          onChange={() => turn(item.id)}
        />
      </div>
      <p className="truncate text-ink2">
        {stream.width} × {stream.height}
        {item.kind === 'moving'
          ? ` · ${shapeText(stream)} · ${rate(stream.rate)} · ${duration(item.facts.duration)}`
          : ` · ${bytes(item.source.bytes)}`}
      </p>
      {item.state === 'examining' && <p className="text-ink2">being examined…</p>}
      {item.state === 'failed' && <p className="line-clamp-2 text-warn">{item.message}</p>}
      {item.facts.damage.length > 0 && <p className="truncate text-warn">damaged: {item.facts.damage[0]}</p>}
      {item.condition && (
        <p className={item.facts.damage.length > 0 ? 'truncate' : 'line-clamp-2'}>
          {faults.length ? faults.map((f) => `${f.name.toLowerCase()}: ${f.reading}`).join(' · ') : 'no fault measured'}
        </p>
      )}
    </li>
  );
});
