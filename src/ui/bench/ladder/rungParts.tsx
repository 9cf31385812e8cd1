'use client';

import type { useSortable } from '@dnd-kit/sortable';
import { useEffect, useRef } from 'react';
import { loupePart } from '../picture/geometry';
import { useBench, useBenchStore } from '../state/store';
import { PATCH } from './patches';
import type { Proof } from '../../parts/api';

/** 61 ms */
export const costText = (ms: number | undefined): string =>
  ms === undefined ? '' : ms < 1000 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(1)} s`;

/** What one takes hold of to move a rung. */
export function MoveHandle({
  name,
  on,
  open,
  round,
  attributes,
  listeners,
  setActivatorNodeRef,
}: Pick<ReturnType<typeof useSortable>, 'attributes' | 'listeners' | 'setActivatorNodeRef'> & {
  name: string;
  on: boolean;
  open: boolean;
  round: boolean;
}) {
  return (
    <button
      type="button"
      ref={setActivatorNodeRef}
      {...attributes}
      {...listeners}
      aria-label={`Move ${name}`}
      title="Drag to move; or space, then arrow keys"
      className="absolute top-[17px] left-[2px] z-[1] grid h-[24px] w-[24px] cursor-grab touch-none place-items-center"
    >
      <span
        className={`block h-[9px] w-[9px] border ${round ? '' : 'rotate-45'} ${on ? (open ? 'border-act bg-act' : 'border-ink bg-ink') : 'border-ink3 bg-paper'}`}
      />
    </button>
  );
}

/** A rung's patch: pressed, the picture in the middle is the one after that rung. */
export function LookButton({
  id,
  name,
  on,
  patch,
  small = false,
}: {
  id: string;
  name: string;
  on: boolean;
  patch: Proof | undefined;
  small?: boolean;
}) {
  const bench = useBenchStore();
  const looked = useBench((s) => s.lookAfter === id);
  const help = looked ? 'Look at the whole plan again' : `Look at the picture after ${name}`;
  return (
    <button
      type="button"
      className={`${small ? 'h-[36px] w-[36px]' : 'h-[50px] w-[50px]'} shrink-0 border ${looked ? 'border-2 border-act' : 'border-rule2'}`}
      aria-pressed={looked}
      aria-label={`Look at the picture after ${name}`}
      title={help}
      disabled={!on}
      onClick={() => bench.setState({ lookAfter: looked ? undefined : id })}
    >
      <Patch answer={patch} label="" dim={!on} bare />
    </button>
  );
}

export function Line({ from }: { from: 'top' | 'middle' | 'through' }) {
  const reach = { top: 'top-0 h-[28px]', middle: 'top-[28px] bottom-0', through: 'inset-y-0' }[from];
  return <span className={`absolute left-[14px] w-px bg-rule2 ${reach}`} aria-hidden />;
}

export function Words({
  name,
  detail,
  cost,
  off = false,
  fault = false,
  mark,
  near = false,
}: {
  name: string;
  detail: string;
  cost: string;
  off?: boolean;
  fault?: boolean;
  mark?: string;
  /** Closer to the top, for a small rung. */
  near?: boolean;
}) {
  return (
    <span className={`block min-w-0 flex-1 ${near ? 'pt-0' : 'pt-[5px]'}`}>
      <span className="flex items-baseline justify-between gap-2">
        <span className={`truncate ${off ? 'text-ink3' : 'font-semibold'}`}>{name}</span>
        <span className="shrink-0 text-ink2 tabular-nums">{cost}</span>
      </span>
      <span className="flex justify-between gap-2">
        <span className={fault ? 'line-clamp-2 text-warn' : 'block truncate text-ink2'} title={detail}>
          {detail}
        </span>
        {mark && <span className="shrink-0 text-act">{mark}</span>}
      </span>
    </span>
  );
}

/** The loupe's part as it is at one place of the ladder. */
export function Patch({
  answer,
  label,
  dim = false,
  bare = false,
}: {
  answer: Proof | undefined;
  label: string;
  dim?: boolean;
  bare?: boolean;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const loupe = useBench((s) => s.loupe);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !answer) return;
    const { width, height } = context.canvas;
    const part = loupePart(answer.output, loupe.u, loupe.v);
    const sx = width / part.width,
      sy = height / part.height;
    context.imageSmoothingQuality = 'high';
    context.clearRect(0, 0, width, height);
    context.drawImage(
      answer.bitmap,
      (answer.place.x - part.x) * sx,
      (answer.place.y - part.y) * sy,
      answer.place.width * sx,
      answer.place.height * sy,
    );
  }, [answer, loupe]);
  return (
    <canvas
      ref={canvas}
      width={PATCH * 2}
      height={PATCH * 2}
      className={`block shrink-0 bg-[#777] ${bare ? 'h-full w-full' : 'h-[50px] w-[50px] border border-rule2'} ${dim ? 'opacity-40' : ''}`}
      data-filled={answer !== undefined}
      {...(label ? { role: 'img', 'aria-label': `Loupe, ${label}` } : { 'aria-hidden': true })}
    />
  );
}
