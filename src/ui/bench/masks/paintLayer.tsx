'use client';

import { useRef, useState, type PointerEvent } from 'react';
import { toast } from 'sonner';
import type { StrokePoint } from '../../../shared/masks/brush';
import type { Point } from '../../../shared/masks/mask';
import { api } from '../../parts/api';
import { useAppearance } from '../../parts/appearance';
import { changeMask, maskOf } from '../state/planActions';
import { livePlan, useBenchStore, type Bench, type Brush } from '../state/store';
import { replaced } from './parts';
import type { SourceMap } from './sourceMap';
import type { PaintedAnswer } from '../../../archive';
import type { PaintRequest } from '../../../shared/requests';

/** What is sent of a stroke: in fractions of the source, its size as a share of the source's height. */
interface SentStroke {
  points: StrokePoint[];
  size: number;
  softness: number;
  flow: number;
  mode: 'add' | 'erase';
}

/** Points nearer to the one before than this share of the brush say nothing new. */
const SPARSE = 0.08;

/** Takes strokes of the brush over the picture, shows them at once, and has them painted. */
export function PaintLayer({ brush, map }: { brush: Brush; map: SourceMap }) {
  const bench = useBenchStore();
  const { tintColour, tintStrength } = useAppearance((s) => s);
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
  const radius = Math.abs(onStage({ x: 0, y: brush.size }).y - onStage({ x: 0, y: 0 }).y) / 2;
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
        setStroke((old) => points.reduce((all, p) => (farFrom(all[all.length - 1], p, brush.size) ? [...all, p] : all), old));
      }}
      onPointerUp={(event) => {
        if (stroke.length === 0) return;
        event.stopPropagation();
        const { size, softness, flow, mode } = brush;
        void paint(bench, brush, { points: stroke, size, softness: softness / 100, flow: flow / 100, mode }).finally(() => setStroke([]));
      }}
      onPointerLeave={() => setPointer(undefined)}
      onDoubleClick={(event) => event.stopPropagation()}
    >
      <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
        {stroke.length > 0 && (
          <polyline
            points={path.length === 1 ? `${path[0]} ${path[0]}` : path.join(' ')}
            fill="none"
            stroke={brush.mode === 'add' ? tintColour : '#777777'}
            strokeOpacity={tintStrength / 100}
            strokeWidth={2 * radius}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        )}
        {pointer && (
          <>
            <circle cx={pointer.x} cy={pointer.y} r={radius} fill="none" stroke="rgb(0 0 0 / 0.6)" strokeWidth={2.5} />
            <circle
              cx={pointer.x}
              cy={pointer.y}
              r={radius}
              fill="none"
              stroke="white"
              strokeDasharray={brush.mode === 'erase' ? '4 3' : undefined}
            />
          </>
        )}
      </svg>
    </div>
  );
}

const farFrom = (a: Point, b: Point, size: number): boolean => Math.hypot(a.x - b.x, a.y - b.y) > SPARSE * size;

/** Strokes are painted one after the other, each on what the one before left. */
let queue: Promise<void> = Promise.resolve();

function paint(bench: Bench, brush: Brush, stroke: SentStroke): Promise<void> {
  queue = queue.then(async () => {
    const { item } = bench.getState();
    const part = maskOf(livePlan(bench.getState()), brush.owner)?.parts.at(brush.part);
    if (part?.shape.kind !== 'painted') return;
    const { document, x, y } = part.shape;
    // What was moved is painted where it lies now.
    const points = stroke.points.map((p) => ({ ...p, x: p.x - x, y: p.y - y }));
    try {
      const made = await api<PaintedAnswer>(`items/${item.id}/painted`, {
        method: 'POST',
        json: { base: document, strokes: [{ ...stroke, points }] } satisfies PaintRequest,
      });
      const now = maskOf(bench.getState().plan, brush.owner);
      const there = now?.parts.at(brush.part);
      if (!now || there?.shape.kind !== 'painted') return;
      changeMask(
        bench,
        brush.owner,
        replaced(now, brush.part, { shape: { ...there.shape, document: made.document } }),
        stroke.mode === 'add' ? 'stroke' : 'stroke erased',
      );
    } catch (error) {
      toast.error(`The stroke was not kept: ${(error as Error).message}`);
    }
  });
  return queue;
}
