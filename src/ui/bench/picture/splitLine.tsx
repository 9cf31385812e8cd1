import type { PointerEvent } from 'react';
import { arrows } from './arrows';
import { clamp01 } from './geometry';
import { useBench, useBenchStore } from '../state/store';

/** The line between both pictures, upright or level; dragged, or moved by arrow keys. */
export function SplitLine() {
  const bench = useBenchStore();
  const split = useBench((s) => s.split);
  const way = useBench((s) => s.way);
  const upright = way === 'upright';
  const move = (to: number): void => bench.setState({ split: clamp01(to) });
  const follow = (event: PointerEvent<HTMLDivElement>): void => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    event.stopPropagation();
    const box = (event.currentTarget.parentElement as HTMLElement).getBoundingClientRect();
    move(upright ? (event.clientX - box.left) / box.width : (event.clientY - box.top) / box.height);
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Split line"
      aria-orientation={upright ? 'horizontal' : 'vertical'}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(split * 100)}
      className={`absolute flex justify-center ${
        upright ? 'inset-y-0 w-[13px] -translate-x-1/2 cursor-ew-resize' : 'inset-x-0 h-[13px] -translate-y-1/2 cursor-ns-resize flex-col'
      }`}
      style={upright ? { left: `${split * 100}%` } : { top: `${split * 100}%` }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={follow}
      onDoubleClick={(event) => {
        event.stopPropagation();
        move(0.5);
      }}
      onKeyDown={(event) => {
        const by = arrows(event, 0.01);
        const step = by && (upright ? by.dx : by.dy);
        if (!step) return;
        event.preventDefault();
        event.stopPropagation();
        move(split + step);
      }}
    >
      <span className={`block border-[#222] bg-white ${upright ? 'h-full w-[3px] border-x' : 'h-[3px] w-full border-y'}`} />
    </div>
  );
}
