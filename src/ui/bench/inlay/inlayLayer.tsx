'use client';

import { useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { InlayPlace } from '../../../shared/inlay';
import { stepOf } from '../../../shared/plan';
import type { Placement } from '../picture/geometry';
import { useSourceMap } from '../masks/sourceMap';
import { changeSettings, previewSettings } from '../state/planActions';
import { infoOf, livePlan, useBench, useBenchStore } from '../state/store';
import { laidIn, outlineOf, placeSettings, withHeld } from './inlayActions';
import { useLaidSize } from './laidSize';

/** Half of a handle in pixels of the screen. */
const HANDLE = 7;
/** Pixels of the source that an arrow key moves, with Shift and without. */
const FAR = 10,
  NEAR = 1;
/** Points of a shape's outline that say an oval. */
const ROUND = Array.from({ length: 48 }, (_, n) => (2 * Math.PI * n) / 48);

interface Point {
  x: number;
  y: number;
}

/** The outline of the picture that the open step lays in: dragged by itself it moves, by its two handles it is placed, turned and sized. */
export function InlayLayer({ at }: { at: Placement }) {
  const bench = useBenchStore();
  const step = useBench((s) => stepOf(livePlan(s), s.opened));
  const placing = useBench((s) => (step ? infoOf(s, step).placing : undefined));
  const map = useSourceMap(at);
  const [held, setHeld] = useState<{ what: 'all' | number; from: Point; place: InlayPlace }>();
  const now = step && placing ? laidIn(step, placing) : undefined;
  const laid = useLaidSize(now?.picture ?? '');
  if (!step || !placing || !now || !laid) return null;
  const { source } = map;
  const stage = ({ x, y }: Point): Point => map.toStage({ x: x / source.width, y: y / source.height });
  const inSource = (event: PointerEvent<SVGElement>): Point => {
    const box = (event.currentTarget.ownerSVGElement as SVGSVGElement).getBoundingClientRect();
    const { x, y } = map.toSource({ x: event.clientX - box.left, y: event.clientY - box.top });
    return { x: x * source.width, y: y * source.height };
  };
  const points = outlineOf(now, laid);
  const corners = points.corners.map(stage);
  const outline = now.shape === 'whole' ? corners : ROUND.map((angle) => onOval(corners, angle));
  const path = `M${outline.map(({ x, y }) => `${x} ${y}`).join('L')}z`;
  const placed = (what: 'all' | number, by: Point, from: InlayPlace): InlayPlace => {
    if (what === 'all') return { ...from, x: from.x + by.x, y: from.y + by.y };
    const point = outlineOf({ ...now, place: from }, laid).held[what];
    return withHeld({ ...now, place: from }, laid, what, { x: point.x + by.x, y: point.y + by.y });
  };
  const commit = (place: InlayPlace): void => changeSettings(bench, step.id, placeSettings(place, placing), 'picture moved');
  const holding = (what: 'all' | number) => ({
    onPointerDown(event: PointerEvent<SVGElement>): void {
      if (event.button !== 0) return;
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      setHeld({ what, from: inSource(event), place: now.place });
    },
    onPointerMove(event: PointerEvent<SVGElement>): void {
      if (held?.what !== what) return;
      event.stopPropagation();
      const to = inSource(event);
      previewSettings(bench, step.id, placeSettings(placed(what, { x: to.x - held.from.x, y: to.y - held.from.y }, held.place), placing));
    },
    onPointerUp(event: PointerEvent<SVGElement>): void {
      event.stopPropagation();
      if (held && JSON.stringify(held.place) !== JSON.stringify(now.place)) commit(now.place);
      setHeld(undefined);
    },
    onKeyDown(event: KeyboardEvent): void {
      const far = event.shiftKey ? FAR : NEAR;
      const by = { ArrowLeft: { x: -far, y: 0 }, ArrowRight: { x: far, y: 0 }, ArrowUp: { x: 0, y: -far }, ArrowDown: { x: 0, y: far } }[
        event.key
      ];
      if (!by) return;
      event.preventDefault();
      event.stopPropagation();
      commit(placed(what, by, now.place));
    },
  });
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full overflow-visible" data-testid="inlay-layer">
      <path d={path} fill="none" stroke="rgb(0 0 0 / 0.6)" strokeWidth={3} aria-hidden />
      <path
        d={path}
        fill="transparent"
        stroke="white"
        strokeWidth={1}
        className="pointer-events-auto cursor-move touch-none"
        role="button"
        tabIndex={0}
        aria-label="Picture that is laid in; arrows move it"
        {...holding('all')}
      />
      {points.held.map(stage).map(({ x, y }, index) => (
        <path
          key={index}
          d={`M${x} ${y - HANDLE}L${x + HANDLE} ${y}L${x} ${y + HANDLE}L${x - HANDLE} ${y}z`}
          fill={held?.what === index ? 'white' : 'rgb(0 0 0 / 0.55)'}
          stroke="white"
          strokeWidth={1.5}
          className="pointer-events-auto cursor-crosshair touch-none"
          role="button"
          tabIndex={0}
          aria-label={`${index ? 'Right' : 'Left'} point that it is held by`}
          data-testid={`inlay-handle-${index}`}
          {...holding(index)}
        />
      ))}
    </svg>
  );
}

/** A point of the oval that fills four corners, which lie as a turned rectangle. */
function onOval([a, b, c]: Point[], angle: number): Point {
  const u = (1 + Math.cos(angle)) / 2,
    v = (1 + Math.sin(angle)) / 2;
  return { x: a.x + u * (b.x - a.x) + v * (c.x - b.x), y: a.y + u * (b.y - a.y) + v * (c.y - b.y) };
}
