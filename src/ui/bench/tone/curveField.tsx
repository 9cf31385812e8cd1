'use client';

import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { SettingSpec } from '../../../core';
import { stepsOn, type PlanStep } from '../../../shared/plan';
import { curveOf, curvePoints } from '../../../shared/settings';
import { curveThrough, type CurvePoint as Point } from '../../../shared/curve';
import { changeSetting, previewSetting } from '../state/planActions';
import { livePlan, useBench, useBenchStore } from '../state/store';
import { pixelsBefore } from './before';

/** Size of the field in its own units, and how many lightnesses are told apart. */
const WIDTH = 220,
  HEIGHT = 130,
  BINS = 64;
const MOST_POINTS = 12;
/** Least way between two points, and how far an arrow key moves one; with Shift, and without. */
const APART = 0.01,
  STEP = 0.01,
  FAR_STEP = 0.05;
const STRAIGHT: Point[] = [
  { x: 0, y: 0 },
  { x: 1, y: 1 },
];

/** A curve over how often each lightness is there. Points are dragged, added by a click, moved with the arrow keys, and taken away with Delete. */
export function CurveField({ spec, step, id, value }: { spec: SettingSpec; step: PlanStep; id: string; value: string }) {
  const bench = useBenchStore();
  const counts = useCounts(step.id);
  const box = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<number>();
  const known = curvePoints(value);
  const points = known.length > 1 ? known : STRAIGHT;
  const at = curveThrough(points);
  const written = (next: Point[]): string =>
    next.length === 2 && next.every(({ x, y }, i) => x === STRAIGHT[i].x && y === STRAIGHT[i].y) ? '' : curveOf(next);
  const place = (event: PointerEvent): Point => {
    const { left, top, width, height } = (box.current as SVGSVGElement).getBoundingClientRect();
    return { x: clamp((event.clientX - left) / width), y: clamp(1 - (event.clientY - top) / height) };
  };
  const moved = (index: number, to: Point): Point[] => {
    const low = index === 0 ? 0 : points[index - 1].x + APART,
      high = index === points.length - 1 ? 1 : points[index + 1].x - APART;
    return points.map((p, i) => (i === index ? { x: Math.min(high, Math.max(low, to.x)), y: clamp(to.y) } : p));
  };
  const without = (index: number): Point[] => (points.length > 2 ? points.filter((_, i) => i !== index) : points);
  const keys = (event: KeyboardEvent, index: number): void => {
    const far = event.shiftKey ? FAR_STEP : STEP;
    const by = { ArrowLeft: [-far, 0], ArrowRight: [far, 0], ArrowUp: [0, far], ArrowDown: [0, -far] }[event.key];
    const { x, y } = points[index];
    if (by) change(moved(index, { x: x + by[0], y: y + by[1] }));
    else if (event.key === 'Delete' || event.key === 'Backspace') change(without(index));
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const change = (next: Point[]): void => changeSetting(bench, step.id, spec.key, written(next));
  const most = Math.max(1, ...counts);
  const bars = counts
    .map((n, i) => `M${(i * WIDTH) / BINS} ${HEIGHT}h${WIDTH / BINS}v${-Math.sqrt(n / most) * HEIGHT}h${-WIDTH / BINS}z`)
    .join('');
  const line = Array.from({ length: 89 }, (_, i) => `${(i / 88) * WIDTH},${HEIGHT * (1 - clamp(at(i / 88)))}`).join(' ');
  return (
    <div className="col-span-3">
      <svg
        ref={box}
        id={id}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="block w-full touch-none border bg-sheet"
        role="group"
        aria-label={spec.label}
        data-testid="curve"
        onPointerDown={(event) => {
          if (event.button !== 0 || points.length >= MOST_POINTS) return;
          const to = place(event);
          if (points.some((p) => Math.abs(p.x - to.x) < 2 * APART)) return;
          const next = [...points, to].sort((a, b) => a.x - b.x);
          event.currentTarget.setPointerCapture(event.pointerId);
          setHeld(next.indexOf(to));
          previewSetting(bench, step.id, spec.key, written(next));
        }}
        onPointerMove={(event) => {
          if (held !== undefined) previewSetting(bench, step.id, spec.key, written(moved(held, place(event))));
        }}
        onPointerUp={(event) => {
          if (held === undefined) return;
          setHeld(undefined);
          change(moved(held, place(event)));
        }}
      >
        <path d={bars} fill="var(--rule-2)" />
        <line x1={0} y1={HEIGHT} x2={WIDTH} y2={0} stroke="var(--ink-3)" strokeDasharray="2 4" />
        <polyline points={line} fill="none" stroke="var(--act)" strokeWidth={1.5} />
        {points.map(({ x, y }, index) => (
          <rect
            key={index}
            x={x * WIDTH - 4.5}
            y={HEIGHT * (1 - y) - 4.5}
            width={9}
            height={9}
            fill={held === index ? 'var(--act)' : 'var(--sheet)'}
            stroke="var(--act)"
            strokeWidth={1.5}
            className="cursor-move"
            role="slider"
            tabIndex={0}
            aria-label={`Point ${index + 1} of the curve`}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuenow={Math.round(100 * y)}
            aria-valuetext={`${Math.round(100 * x)} % becomes ${Math.round(100 * y)} %`}
            onKeyDown={(event) => keys(event, index)}
            onPointerDown={(event) => {
              if (event.button !== 0) return;
              event.stopPropagation();
              box.current?.setPointerCapture(event.pointerId);
              setHeld(index);
            }}
            onDoubleClick={(event) => {
              event.stopPropagation();
              change(without(index));
            }}
          />
        ))}
      </svg>
      <p className="flex justify-between text-[12px] text-ink2">
        <span>dark</span>
        <span>light</span>
      </p>
    </div>
  );
}

const clamp = (v: number): number => Math.min(1, Math.max(0, v));

/** Pixels that are counted. */
const COUNTED = 256;

/** How often each lightness is there in the picture that a step reads. */
function useCounts(owner: string): number[] {
  const bench = useBenchStore();
  // Whatever comes before the step changes what it reads.
  const before = useBench((s) =>
    JSON.stringify(
      stepsOn(livePlan(s)).slice(
        0,
        stepsOn(livePlan(s)).findIndex((t) => t.id === owner),
      ),
    ),
  );
  const frame = useBench((s) => s.frame);
  const [counts, setCounts] = useState<number[]>([]);
  useEffect(() => {
    const asking = new AbortController();
    pixelsBefore(bench, owner, { x: 0, y: 0, width: 1, height: 1 }, { width: COUNTED, height: COUNTED }, asking.signal)
      .then((pixels) => {
        if (!pixels || asking.signal.aborted) return;
        const found = new Array<number>(BINS).fill(0);
        for (let i = 0; i < pixels.length; i += 4) {
          const lightness = (0.299 * pixels[i] + 0.587 * pixels[i + 1] + 0.114 * pixels[i + 2]) / 256;
          found[Math.min(BINS - 1, Math.floor(BINS * lightness))]++;
        }
        setCounts(found);
      })
      // Without it, the curve stands alone; the picture itself says what is wrong.
      .catch(() => undefined);
    return () => asking.abort();
  }, [bench, owner, before, frame]);
  return counts;
}
