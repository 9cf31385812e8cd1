'use client';

import { useRef, type PointerEvent } from 'react';
import { timecode } from '../../parts/format';
import { useSize } from '../../parts/size';
import { arrows } from '../picture/arrows';
import { goTo, markRange } from '../state/keys';
import { useBench, useBenchStore } from '../state/store';
import { stretchRange, type Stretch } from './stretch';
import { Thumbnails } from './thumbnails';
import { TraceRows } from './traceRows';
import { useTraces } from './traces';

/** Spacings of the ruler's marks, seconds. */
const SPACINGS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600];
/** Least room for a mark with its timecode, pixels. */
const MARK_ROOM = 92;

/** The running time as a ruler, with thumbnails, the range, scene changes and traces; a click goes to the frame. */
export function TimeRuler({ stretch }: { stretch: Stretch }) {
  const bench = useBenchStore();
  const frame = useBench((s) => s.frame);
  const output = useBench((s) => s.output);
  const range = useBench((s) => s.range);
  const element = useRef<HTMLDivElement>(null);
  const { width } = useSize(element);
  const traces = useTraces();
  const x = (n: number): number => (n / output.frames) * width;
  const frameAt = (clientX: number): number => {
    const box = (element.current as HTMLDivElement).getBoundingClientRect();
    return Math.floor(((clientX - box.left) / box.width) * output.frames);
  };
  return (
    <div ref={element} className="relative flex h-full flex-col overflow-hidden bg-paper select-none">
      {range && (
        <span
          className="pointer-events-none absolute inset-y-0 bg-act2"
          style={{ left: x(range.first), width: Math.max(2, x(range.last + 1) - x(range.first)) }}
          data-testid="range"
        />
      )}
      <div
        role="slider"
        tabIndex={0}
        aria-label="Time"
        aria-valuemin={0}
        aria-valuemax={output.frames - 1}
        aria-valuenow={frame}
        aria-valuetext={timecode(frame, output.rate)}
        className="absolute inset-0 cursor-pointer touch-none"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          goTo(bench, frameAt(event.clientX));
        }}
        onPointerMove={(event) => event.buttons === 1 && goTo(bench, frameAt(event.clientX))}
      />
      <Marks width={width} />
      {traces?.scenes.map((n) => (
        <span
          key={n}
          className="pointer-events-none absolute top-[14px] h-[8px] w-[3px] bg-ink"
          style={{ left: x(n) - 1 }}
          title="a new scene"
          data-testid="scene"
        />
      ))}
      {stretch.total > 0 && (
        <span
          className="pointer-events-none absolute top-[22px] h-[3px] bg-act"
          style={{ left: x(stretchRange(bench).first), width: Math.max(stretch.done ? 2 : 0, x(stretch.done)) }}
          aria-hidden
        />
      )}
      <Thumbnails width={width} />
      {traces && <TraceRows traces={traces} width={width} />}
      {range && (
        <>
          <RangeHandle end="first" at={range.first} left={x(range.first)} frameAt={frameAt} />
          <RangeHandle end="last" at={range.last} left={x(range.last + 1)} frameAt={frameAt} />
        </>
      )}
      <span className="pointer-events-none absolute inset-y-0 w-[2px] bg-ink" style={{ left: x(frame + 0.5) - 1 }} data-testid="playhead" />
    </div>
  );
}

function Marks({ width }: { width: number }) {
  const output = useBench((s) => s.output);
  const rate = output.rate.num / Math.max(1, output.rate.den);
  const seconds = output.frames / rate;
  const spacing = SPACINGS.find((s) => (s / seconds) * width >= MARK_ROOM) ?? seconds;
  const marks = Array.from({ length: Math.min(200, Math.floor(seconds / spacing) + 1) }, (_, i) => Math.round(i * spacing * rate));
  const x = (n: number): number => (n / output.frames) * width;
  return (
    <div className="pointer-events-none relative h-[22px] shrink-0 border-b" aria-hidden>
      {marks.map((n) => (
        <span
          key={n}
          className="absolute top-0 h-[22px] border-l border-rule2 pl-1 text-[12px] leading-[20px] text-ink2 tabular-nums"
          style={{ left: x(n) }}
        >
          {x(n) + MARK_ROOM - 14 < width && timecode(n, output.rate)}
        </span>
      ))}
    </div>
  );
}

/** One end of the range: dragged, or moved by arrow keys. */
function RangeHandle({
  end,
  at,
  left,
  frameAt,
}: {
  end: 'first' | 'last';
  at: number;
  left: number;
  frameAt: (clientX: number) => number;
}) {
  const bench = useBenchStore();
  const output = useBench((s) => s.output);
  const follow = (event: PointerEvent<HTMLDivElement>): void => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    markRange(bench, end, frameAt(event.clientX) - (end === 'last' ? 1 : 0));
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={end === 'first' ? 'Start of the range' : 'End of the range'}
      aria-valuemin={0}
      aria-valuemax={output.frames - 1}
      aria-valuenow={at}
      aria-valuetext={timecode(at, output.rate)}
      className="absolute inset-y-0 w-[9px] cursor-ew-resize touch-none"
      style={{ left: left - 4 }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={follow}
      onKeyDown={(event) => {
        const by = arrows(event, 1);
        if (!by?.dx) return;
        event.preventDefault();
        event.stopPropagation();
        markRange(bench, end, at + by.dx);
      }}
    >
      <span className="absolute inset-y-0 left-[3px] w-[2px] bg-act" />
      <span className={`absolute top-0 h-[10px] w-[7px] bg-act ${end === 'first' ? 'left-[3px]' : 'left-[-2px]'}`} />
    </div>
  );
}
