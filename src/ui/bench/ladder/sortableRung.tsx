'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { ComponentProps, ReactNode } from 'react';
import { useBench, useBenchStore } from '../state/store';
import { switchEntry } from '../state/planActions';
import type { Proof } from '../../parts/api';
import { Line, LookButton, MoveHandle, Words } from './rungParts';

/** A rung that can be moved along its list: handle, patch and words, and what is below them. */
export function SortableRung({
  id,
  name,
  testId,
  on,
  round = false,
  patch,
  words,
  children,
}: {
  id: string;
  /** What it is called to those who hear it. */
  name: string;
  testId: string;
  on: boolean;
  /** Whether its handle is round, as a step's is. */
  round?: boolean;
  patch: Proof | undefined;
  words: ComponentProps<typeof Words>;
  children: ReactNode;
}) {
  const open = useBench((s) => s.opened === id);
  const { setNodeRef, transform, transition, isDragging, ...handle } = useSortable({ id });
  return (
    <li
      ref={setNodeRef}
      data-testid={testId}
      className={`relative ${open ? 'border-y bg-sheet' : ''} ${isDragging ? 'z-10 bg-paper2' : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <div className="relative flex gap-[10px] py-[5px] pr-3 pl-[28px]">
        <Line from="through" />
        <MoveHandle name={name} on={on} open={open} round={round} {...handle} />
        <LookButton id={id} name={name} on={on} patch={patch} />
        <OpenButton id={id} words={words} />
      </div>
      {children}
    </li>
  );
}

/** The words of a rung, which open and close it. */
export function OpenButton({ id, words, label }: { id: string; words: ComponentProps<typeof Words>; label?: string }) {
  const bench = useBenchStore();
  const open = useBench((s) => s.opened === id);
  return (
    <button
      type="button"
      className="min-w-0 flex-1 cursor-pointer text-left"
      aria-expanded={open}
      aria-label={label}
      onClick={() => bench.setState({ opened: open ? undefined : id })}
    >
      <Words {...words} />
    </button>
  );
}

export function RungSwitch({ id, on }: { id: string; on: boolean }) {
  const bench = useBenchStore();
  return (
    <button type="button" className="btn" onClick={() => switchEntry(bench, id)}>
      {on ? 'Switch off' : 'Switch on'}
    </button>
  );
}

/** What an open rung can be told at its end: its switch, and whatever else there is. */
export function RungActions({ children }: { children: ReactNode }) {
  return <div className="mt-1.5 flex flex-wrap items-center gap-x-2 gap-y-1 whitespace-nowrap">{children}</div>;
}
