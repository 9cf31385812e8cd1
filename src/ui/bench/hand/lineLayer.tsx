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

/** Shortest line that says what is level, in pixels of the screen. */
const LEAST_LEVEL = 20;
const NOTHING: { line?: undefined; level?: undefined } = {};

/** Takes one line over the picture; its direction, or its length too, become the step's settings. */
export function LineLayer({ at }: { at: Placement }) {
  const bench = useBenchStore();
  const step = useBench((s) => (s.lining === s.opened ? stepOf(livePlan(s), s.lining) : undefined));
  const { line, level } = useBench((s) => (step ? infoOf(s, step) : NOTHING));
  const map = useSourceMap(at);
  const layer = useRef<HTMLDivElement>(null);
  const [ends, setEnds] = useState<{ from: Point; to: Point }>();
  if (!step || (!line && !level)) return null;
  const stagePoint = (event: PointerEvent): Point => {
    const box = (layer.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const inSource = (p: Point): Point => {
    const { x, y } = map.toSource(p);
    return { x: x * map.source.width, y: y * map.source.height };
  };
  const takeLevel = (key: string, from: Point, to: Point): void => {
    if (Math.hypot(to.x - from.x, to.y - from.y) < LEAST_LEVEL) return;
    // What runs more upright than level should be upright.
    const slant = ((((Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI + 45) % 90) + 90) % 90;
    const angle = Number(step.settings[key]) - (slant - 45);
    const spec = infoOf(bench.getState(), step).settings.find((s) => s.key === key);
    const held = Math.min(spec?.max ?? angle, Math.max(spec?.min ?? angle, Math.round(20 * angle) / 20));
    changeSettings(bench, step.id, { [key]: held }, `levelled along a line, ${held}°`);
    bench.setState({ lining: undefined });
  };
  const take = (from: Point, to: Point): void => {
    if (level) {
      takeLevel(level, from, to);
      return;
    }
    if (!line) return;
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
