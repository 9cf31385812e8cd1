'use client';

import { useRef, useState, type PointerEvent } from 'react';
import type { Point } from '../../../shared/masks/mask';
import { stepOf } from '../../../shared/plan';
import { useSourceMap } from '../masks/sourceMap';
import type { Placement } from '../picture/geometry';
import { changeSettings } from '../state/planActions';
import { infoOf, livePlan, useBench, useBenchStore } from '../state/store';

/** Shortest line that says anything, in pixels of the source. */
const LEAST = 1;

/** Takes one line over the picture; its length and direction become the step's settings. */
export function LineLayer({ at }: { at: Placement }) {
  const bench = useBenchStore();
  const step = useBench((s) => (s.lining === s.opened ? stepOf(livePlan(s), s.lining) : undefined));
  const line = useBench((s) => step && infoOf(s, step).line);
  const map = useSourceMap(at);
  const layer = useRef<HTMLDivElement>(null);
  const [ends, setEnds] = useState<{ from: Point; to: Point }>();
  if (!step || !line) return null;
  const stagePoint = (event: PointerEvent): Point => {
    const box = (layer.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const inSource = (p: Point): Point => {
    const { x, y } = map.toSource(p);
    return { x: x * map.source.width, y: y * map.source.height };
  };
  const take = (from: Point, to: Point): void => {
    const [a, b] = [inSource(from), inSource(to)];
    const length = Math.round(2 * Math.hypot(b.x - a.x, b.y - a.y)) / 2;
    if (length < LEAST) return;
    const spec = infoOf(bench.getState(), step).settings.find((s) => s.key === line.length);
    const angle = Math.round(((Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI + 180) % 180) % 180;
    const held = Math.min(spec?.max ?? length, length);
    changeSettings(bench, step.id, { [line.length]: held, [line.angle]: angle }, `trace of ${held} px at ${angle}° drawn`);
    bench.setState({ lining: undefined });
  };
  return (
    <div
      ref={layer}
      data-testid="line-layer"
      className="absolute inset-0 cursor-crosshair touch-none"
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        const from = stagePoint(event);
        setEnds({ from, to: from });
      }}
      onPointerMove={(event) => {
        if (!ends) return;
        event.stopPropagation();
        setEnds({ ...ends, to: stagePoint(event) });
      }}
      onPointerUp={(event) => {
        if (!ends) return;
        event.stopPropagation();
        setEnds(undefined);
        take(ends.from, stagePoint(event));
      }}
    >
      <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
        {ends && (
          <>
            <line x1={ends.from.x} y1={ends.from.y} x2={ends.to.x} y2={ends.to.y} stroke="rgb(0 0 0 / 0.6)" strokeWidth={3} />
            <line x1={ends.from.x} y1={ends.from.y} x2={ends.to.x} y2={ends.to.y} stroke="white" strokeWidth={1} />
          </>
        )}
      </svg>
    </div>
  );
}
