'use client';

import { useRef, useState, type PointerEvent } from 'react';
import type { StrokePoint } from '../../../shared/masks/brush';
import type { Point } from '../../../shared/masks/mask';
import type { SourceMap } from './sourceMap';

/** Points nearer to the one before than this share of the brush say nothing new. */
const SPARSE = 0.08;

/** Takes strokes over the picture and shows them, until they are done with. */
export function StrokeLayer({
  map,
  size,
  colour,
  opacity,
  dashed,
  onStroke,
}: {
  map: SourceMap;
  /** Diameter as a share of the source's height. */
  size: number;
  colour: string;
  /** 0 to 1. */
  opacity: number;
  /** Whether the brush is shown dashed, for what takes away. */
  dashed: boolean;
  /** @param points in fractions of the source. */
  onStroke(points: StrokePoint[]): Promise<void>;
}) {
  const [stroke, setStroke] = useState<StrokePoint[]>([]);
  const [pointer, setPointer] = useState<Point>();
  const layer = useRef<HTMLDivElement>(null);
  const stagePoint = (event: { clientX: number; clientY: number }): Point => {
    const box = (layer.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  // Pens say how hard they press; a mouse says 0.5 whenever it is down.
  const pressureOf = (event: PointerEvent): number => (event.pointerType === 'pen' ? Math.max(0.02, event.pressure) : 1);
  const sourcePoint = (event: PointerEvent): StrokePoint => ({ ...map.toSource(stagePoint(event)), pressure: pressureOf(event) });
  const onStage = (p: Point): Point => map.toStage(p);
  const radius = Math.abs(onStage({ x: 0, y: size }).y - onStage({ x: 0, y: 0 }).y) / 2;
  const path = stroke.map(onStage).map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`);
  return (
    <div
      ref={layer}
      data-testid="paint-layer"
      className="absolute inset-0 cursor-none touch-none"
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        setStroke([sourcePoint(event)]);
      }}
      onPointerMove={(event) => {
        setPointer(stagePoint(event));
        if (stroke.length === 0) return;
        event.stopPropagation();
        const seen = event.nativeEvent.getCoalescedEvents?.() ?? [];
        const points = (seen.length ? seen : [event.nativeEvent]).map((e) => sourcePoint(e as unknown as PointerEvent));
        setStroke((old) => points.reduce((all, p) => (farFrom(all[all.length - 1], p, size) ? [...all, p] : all), old));
      }}
      onPointerUp={(event) => {
        if (stroke.length === 0) return;
        event.stopPropagation();
        void onStroke(stroke).finally(() => setStroke([]));
      }}
      onPointerLeave={() => setPointer(undefined)}
      onDoubleClick={(event) => event.stopPropagation()}
    >
      <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
        {stroke.length > 0 && (
          <polyline
            points={path.length === 1 ? `${path[0]} ${path[0]}` : path.join(' ')}
            fill="none"
            stroke={colour}
            strokeOpacity={opacity}
            strokeWidth={2 * radius}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        )}
        {pointer && (
          <>
            <circle cx={pointer.x} cy={pointer.y} r={radius} fill="none" stroke="rgb(0 0 0 / 0.6)" strokeWidth={2.5} />
            <circle cx={pointer.x} cy={pointer.y} r={radius} fill="none" stroke="white" strokeDasharray={dashed ? '4 3' : undefined} />
          </>
        )}
      </svg>
    </div>
  );
}

const farFrom = (a: Point, b: Point, size: number): boolean => Math.hypot(a.x - b.x, a.y - b.y) > SPARSE * size;
