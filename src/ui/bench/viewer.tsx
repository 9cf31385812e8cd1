'use client';

import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { arrows } from './arrows';
import { fractionAt, loupePart, panned, placePicture, visiblePart, zoomAt, type Placement, type Size } from './geometry';
import { useLayer } from './layers';
import { MaskOverlay } from './maskOverlay';
import { paint, panesFor, roomFor } from './painting';
import { clamp01 } from './geometry';
import { infoOf, livePlan, useBench, useBenchStore } from './store';
import type { Stretch } from './stretch';
import { ViewerBar, ViewerState } from './viewerBars';

/** Wheel notch to zoom factor. */
const WHEEL = 1.0015;

/** The picture in the middle: source and result under one view. */
export function Viewer({ stretch }: { stretch: Stretch }) {
  const bench = useBenchStore();
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  const ratio = typeof window === 'undefined' ? 1 : window.devicePixelRatio;
  const { output, view, mode, split, holding, loupe } = useBench((s) => s);
  useLayoutEffect(() => {
    const element = stage.current as HTMLDivElement;
    const watch = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  const room = useMemo(() => roomFor(mode, size), [mode, size]);
  const at = useMemo(() => placePicture(output, room, view), [output, room, view]);
  const part = room.width > 0 ? visiblePart(at, room) : undefined;
  const pixels = { width: part ? part.width * at.width * ratio : 1, height: part ? part.height * at.height * ratio : 1 };
  const frame = useBench((s) => s.frame);
  const evidence = useBench((s) => s.evidence);
  const kept = evidence ? undefined : stretch.find(frame);
  const result = useLayer('result', part, pixels, kept !== undefined);
  const source = useLayer('source', part, pixels, kept !== undefined);
  const shownResult = kept?.result ?? result.layer;
  const shownSource = kept?.source ?? source.layer;
  const panes = useMemo(
    () => panesFor(mode, holding, split, size, (r) => placePicture(output, r, view)),
    [mode, holding, split, size, output, view],
  );

  useEffect(() => {
    const element = canvas.current;
    if (!element || size.width === 0) return;
    const width = Math.round(size.width * ratio),
      height = Math.round(size.height * ratio);
    if (element.width !== width) element.width = width;
    if (element.height !== height) element.height = height;
    const context = element.getContext('2d') as CanvasRenderingContext2D;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    paint(element, getComputedStyle(element).getPropertyValue('--surround'), panes, shownSource, shownResult);
  }, [size, ratio, panes, shownSource, shownResult]);

  useWheelZoom(stage, () => roomFor(bench.getState().mode, size));

  const [pointer, setPointer] = useState<{ u: number; v: number }>();
  const drag = useDrag(size, room, at, setPointer);
  const after = useBench((s) => {
    const step = livePlan(s).steps.find((t) => t.id === s.lookAfter && t.on);
    if (s.evidence) return 'evidence';
    return step ? `after ${infoOf(s, step).name}` : 'result';
  });
  const loupeBox = loupePart(output, loupe.u, loupe.v);
  const boxes = panes.source && panes.result && mode === 'pair' ? [panes.source.at, panes.result.at] : [at];
  const problem = useBench((s) => s.problem);

  return (
    <section aria-label="Picture" className="flex h-full min-w-0 flex-col bg-paper">
      <ViewerBar after={after} />
      <div
        ref={stage}
        className="relative min-h-0 flex-1 cursor-grab touch-none overflow-hidden bg-[var(--surround)] select-none active:cursor-grabbing"
        data-testid="stage"
        data-frame={shownResult && 'frame' in shownResult ? shownResult.frame : undefined}
        data-waiting={result.waiting || source.waiting}
        {...drag}
      >
        <canvas ref={canvas} className="absolute inset-0 h-full w-full" role="img" aria-label={`Frame ${frame}: source and ${after}`} />
        {boxes.map((box, i) => (
          <LoupeFrame key={i} box={box} part={loupeBox} label={i === 0} />
        ))}
        {!holding && boxes.map((box, i) => <MaskOverlay key={i} at={box} />)}
        <SideNames mode={mode} holding={holding} split={split} size={size} after={after} />
        {mode === 'split' && !holding && <SplitLine split={split} size={size} />}
        {problem && (
          <p role="alert" className="absolute inset-x-8 top-10 border border-warn bg-sheet px-3 py-2 text-warn">
            {problem}
          </p>
        )}
      </div>
      <ViewerState pointer={pointer} source={shownSource} result={shownResult} waiting={result.waiting || source.waiting} />
    </section>
  );
}

function useWheelZoom(stage: React.RefObject<HTMLDivElement | null>, room: () => Size): void {
  const bench = useBenchStore();
  const latest = useRef(room);
  useEffect(() => {
    latest.current = room;
  });
  useEffect(() => {
    const element = stage.current as HTMLDivElement;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const { output, view, mode } = bench.getState();
      const box = element.getBoundingClientRect();
      const space = latest.current();
      let x = event.clientX - box.left;
      if (mode === 'pair' && x > space.width) x -= box.width - space.width;
      const now = placePicture(output, space, view).scale;
      bench.setState({ view: zoomAt(output, space, view, x, event.clientY - box.top, now * WHEEL ** -event.deltaY) });
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [bench, stage]);
}

/** Dragging pans; starting inside the loupe's frame, it carries the loupe. A double click brings the loupe there. */
function useDrag(size: Size, room: Size, at: Placement, point: (p: { u: number; v: number } | undefined) => void) {
  const bench = useBenchStore();
  const held = useRef<{ x: number; y: number; loupe: boolean }>(undefined);
  const local = useCallback(
    (event: { clientX: number; clientY: number; currentTarget: Element }) => {
      const box = event.currentTarget.getBoundingClientRect();
      let x = event.clientX - box.left;
      if (room.width < size.width && x > room.width) x -= size.width - room.width;
      return { x, y: event.clientY - box.top };
    },
    [room, size],
  );
  return {
    onPointerDown: (event: PointerEvent<HTMLDivElement>) => {
      if (event.button !== 0) return;
      const { x, y } = local(event);
      const { u, v } = fractionAt(at, x, y);
      const { output, loupe } = bench.getState();
      const box = loupePart(output, loupe.u, loupe.v);
      const inside = u >= box.x && v >= box.y && u <= box.x + box.width && v <= box.y + box.height;
      held.current = { x, y, loupe: inside };
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMove: (event: PointerEvent<HTMLDivElement>) => {
      const { x, y } = local(event);
      const f = fractionAt(at, x, y);
      point(f.u >= 0 && f.v >= 0 && f.u <= 1 && f.v <= 1 ? f : undefined);
      const from = held.current;
      if (!from) return;
      const { output, view, loupe } = bench.getState();
      if (from.loupe)
        bench.setState({ loupe: { u: clamp01(loupe.u + (x - from.x) / at.width), v: clamp01(loupe.v + (y - from.y) / at.height) } });
      else bench.setState({ view: panned(output, room, view, x - from.x, y - from.y) });
      held.current = { ...from, x, y };
    },
    onPointerUp: () => {
      held.current = undefined;
    },
    onPointerLeave: () => point(undefined),
    onDoubleClick: (event: React.MouseEvent<HTMLDivElement>) => {
      const { x, y } = local(event);
      const { u, v } = fractionAt(at, x, y);
      bench.setState({ loupe: { u: clamp01(u), v: clamp01(v) } });
    },
  };
}

function LoupeFrame({
  box,
  part,
  label,
}: {
  box: Placement;
  part: { x: number; y: number; width: number; height: number };
  label: boolean;
}) {
  const bench = useBenchStore();
  return (
    <div
      role="group"
      tabIndex={label ? 0 : -1}
      aria-label="Loupe: arrow keys move it"
      aria-hidden={!label}
      className="pointer-events-none absolute border border-white outline-1 outline-black/60 focus-visible:outline-2"
      style={{
        left: box.x + part.x * box.width,
        top: box.y + part.y * box.height,
        width: part.width * box.width,
        height: part.height * box.height,
      }}
      onKeyDown={(event) => {
        const move = arrows(event, 0.01);
        if (!move) return;
        event.preventDefault();
        event.stopPropagation();
        const { loupe } = bench.getState();
        bench.setState({ loupe: { u: clamp01(loupe.u + move.dx), v: clamp01(loupe.v + move.dy) } });
      }}
    >
      {label && <span className="absolute -top-[17px] -left-px bg-[#3c3c3c] px-1 text-[11px] leading-4 text-white">loupe</span>}
    </div>
  );
}

function SplitLine({ split, size }: { split: number; size: Size }) {
  const bench = useBenchStore();
  const move = (to: number): void => bench.setState({ split: clamp01(to) });
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Split line"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(split * 100)}
      className="absolute inset-y-0 flex w-[13px] cursor-ew-resize justify-center"
      style={{ left: Math.round(split * size.width) - 6 }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        event.stopPropagation();
        const box = (event.currentTarget.parentElement as HTMLElement).getBoundingClientRect();
        move((event.clientX - box.left) / box.width);
      }}
      onDoubleClick={(event) => {
        event.stopPropagation();
        move(0.5);
      }}
      onKeyDown={(event) => {
        const by = arrows(event, 0.01);
        if (!by || by.dx === 0) return;
        event.preventDefault();
        event.stopPropagation();
        move(split + by.dx);
      }}
    >
      <span className="block h-full w-[3px] border-x border-[#222] bg-white" />
    </div>
  );
}

function SideNames({ mode, holding, split, size, after }: { mode: string; holding: boolean; split: number; size: Size; after: string }) {
  const name = 'absolute top-0 bg-[#3c3c3c] px-1.5 text-[12px] leading-[18px] text-white pointer-events-none';
  if (holding)
    return (
      <span className={name} style={{ left: 0 }}>
        source
      </span>
    );
  if (mode === 'single')
    return (
      <span className={name} style={{ left: 0 }}>
        {after}
      </span>
    );
  if (mode === 'pair')
    return (
      <>
        <span className={name} style={{ left: 0 }}>
          source
        </span>
        <span className={name} style={{ left: size.width / 2 + 2 }}>
          {after}
        </span>
      </>
    );
  const line = Math.round(split * size.width);
  return (
    <>
      <span className={name} style={{ right: size.width - line + 3 }}>
        source
      </span>
      <span className={name} style={{ left: line + 3 }}>
        {after}
      </span>
    </>
  );
}
