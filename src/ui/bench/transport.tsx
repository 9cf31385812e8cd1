'use client';

import { ChevronLeft, ChevronRight, Pause, Play } from 'lucide-react';
import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { timecode } from '../parts/format';
import { goTo, markRange, stepFrame } from './keys';
import { useBench, useBenchStore } from './store';
import { LONGEST_STRETCH, stretchRange, type Stretch } from './stretch';

/** Where one is in the running time, and how to move. */
export function Transport({ stretch }: { stretch: Stretch }) {
  const bench = useBenchStore();
  const { frame, output, range, playing } = useBench((s) => s);
  const [typed, setTyped] = useState<string>();
  const chosen = stretchRange(bench);
  const count = chosen.last - chosen.first + 1;
  const asked = range ? range.last - range.first + 1 : count;
  const go = (): void => {
    const n = Number(typed);
    if (typed?.trim() && Number.isFinite(n)) goTo(bench, n);
    setTyped(undefined);
  };
  return (
    <div className="flex flex-col gap-1.5 px-[14px] py-2">
      <div className="text-[20px] leading-6 font-semibold tabular-nums" data-testid="timecode">
        {timecode(frame, output.rate)}
      </div>
      <div className="flex items-center gap-1.5 text-ink2">
        <label htmlFor="frame">frame</label>
        <input
          id="frame"
          className="field w-[64px] text-right"
          inputMode="numeric"
          value={typed ?? String(frame)}
          onFocus={() => setTyped(String(frame))}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={go}
          onKeyDown={(e) => e.key === 'Enter' && go()}
        />
        <span className="tabular-nums">of {output.frames.toLocaleString('en-GB')}</span>
      </div>
      <div className="flex gap-1.5">
        <button type="button" className="btn px-1.5" aria-label="One frame back" onClick={() => stepFrame(bench, -1)}>
          <ChevronLeft size={14} aria-hidden />
        </button>
        <button
          type="button"
          className="btn px-1.5"
          aria-label={playing ? 'Stop' : 'Play'}
          onClick={() => bench.setState({ playing: playing ? 0 : 1 })}
        >
          {playing ? <Pause size={13} aria-hidden /> : <Play size={13} aria-hidden />}
        </button>
        <button type="button" className="btn px-1.5" aria-label="One frame on" onClick={() => stepFrame(bench, 1)}>
          <ChevronRight size={14} aria-hidden />
        </button>
        <button type="button" className="btn px-1.5" aria-label="Start the range here" onClick={() => markRange(bench, 'first')}>
          I
        </button>
        <button type="button" className="btn px-1.5" aria-label="End the range here" onClick={() => markRange(bench, 'last')}>
          O
        </button>
      </div>
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="btn"
          onClick={() => stretch.toggle()}
          title={range ? 'Proofs the range, then plays it at its own speed' : 'Proofs the next frames, then plays them at their own speed'}
        >
          {stretch.busy ? 'Stop' : 'Proof stretch'}
        </button>
        <span className="whitespace-nowrap text-ink2 tabular-nums" role="status" data-testid="stretch">
          {stretch.busy
            ? `${stretch.done} of ${stretch.total}`
            : stretch.total > 0 && stretch.done === stretch.total
              ? `${stretch.total} proofed`
              : asked > LONGEST_STRETCH
                ? `first ${LONGEST_STRETCH} fr`
                : `${count} fr`}
        </span>
      </div>
    </div>
  );
}

/** Spacings of the ruler's marks, seconds. */
const SPACINGS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600];
/** Least room for a mark with its timecode, pixels. */
const MARK_ROOM = 92;

/** The running time as a ruler: the frame one is at, the range, the frames the condition was measured on. */
export function TimeRuler({ stretch }: { stretch: Stretch }) {
  const bench = useBenchStore();
  const { frame, output, range, item, description } = useBench((s) => s);
  const element = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const box = element.current as HTMLDivElement;
    const watch = new ResizeObserver(() => setWidth(box.clientWidth));
    watch.observe(box);
    return () => watch.disconnect();
  }, []);
  const rate = output.rate.num / Math.max(1, output.rate.den);
  const seconds = output.frames / rate;
  const spacing = SPACINGS.find((s) => (s / seconds) * width >= MARK_ROOM) ?? seconds;
  const marks = Array.from({ length: Math.min(200, Math.floor(seconds / spacing) + 1) }, (_, i) => Math.round(i * spacing * rate));
  const x = (n: number): number => (n / output.frames) * width;
  const seek = (event: PointerEvent<HTMLDivElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    goTo(bench, Math.floor(((event.clientX - box.left) / box.width) * output.frames));
  };
  const perSource = output.frames / description.source.frames;
  return (
    <div
      ref={element}
      role="slider"
      tabIndex={0}
      aria-label="Time"
      aria-valuemin={0}
      aria-valuemax={output.frames - 1}
      aria-valuenow={frame}
      aria-valuetext={timecode(frame, output.rate)}
      className="relative h-full cursor-pointer touch-none overflow-hidden bg-paper select-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        seek(event);
      }}
      onPointerMove={(event) => event.buttons === 1 && seek(event)}
    >
      {range && (
        <span
          className="absolute inset-y-0 border-x-2 border-act bg-act2"
          style={{ left: x(range.first), width: Math.max(2, x(range.last + 1) - x(range.first)) }}
          data-testid="range"
        />
      )}
      <span className="absolute inset-x-0 top-[22px] border-t" aria-hidden />
      {marks.map((n) => (
        <span
          key={n}
          className="absolute top-0 h-[22px] border-l border-rule2 pl-1 text-[12px] leading-[20px] text-ink2 tabular-nums"
          style={{ left: x(n) }}
          aria-hidden
        >
          {x(n) + MARK_ROOM - 14 < width && timecode(n, output.rate)}
        </span>
      ))}
      <span className="absolute top-[25px] left-2 text-[12px] text-ink2" aria-hidden>
        measured at
      </span>
      {item.condition?.sampled.map((n) => (
        <span key={n} className="absolute top-[46px] h-[10px] w-px bg-ink2" style={{ left: x(n * perSource) }} aria-hidden />
      ))}
      {stretch.total > 0 && (
        <>
          <span className="absolute top-[60px] left-2 text-[12px] text-ink2" aria-hidden>
            proofed
          </span>
          <span
            className="absolute top-[82px] h-[4px] bg-act"
            style={{ left: x(stretchRange(bench).first), width: Math.max(stretch.done ? 2 : 0, x(stretch.done)) }}
            aria-hidden
          />
        </>
      )}
      <span className="absolute inset-y-0 w-[2px] bg-ink" style={{ left: x(frame + 0.5) - 1 }} data-testid="playhead" />
    </div>
  );
}
