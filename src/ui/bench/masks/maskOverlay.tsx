'use client';

import { useState, type PointerEvent } from 'react';
import type { Mask, MaskPart, Point, Shape } from '../../../shared/masks/mask';
import type { Placement, Size } from '../picture/geometry';
import { changeMask, maskOf, previewMask } from '../state/planActions';
import { livePlan, useBench, useBenchStore } from '../state/store';
import { MaskTint } from './maskTint';
import { PaintLayer } from './paintLayer';
import { cornerAdded, cornerMoved, cornerRemoved, isRounded, moved, replaced, shapeText, stretched } from './parts';
import { useSourceMap, type SourceMap } from './sourceMap';

/** The mask of what is open, over the picture: its tint, its outlines and what they are held by. */
export function MaskOverlay({ at, room }: { at: Placement; room: Size }) {
  const opened = useBench((s) => s.opened);
  const mask = useBench((s) => maskOf(livePlan(s), s.opened));
  const brush = useBench((s) => s.brush);
  const map = useSourceMap(at);
  if (!mask || opened === undefined) return null;
  return (
    <>
      <MaskTint mask={mask} at={at} room={room} />
      <svg className="pointer-events-none absolute inset-0 h-full w-full overflow-visible" aria-hidden>
        {mask.parts.map((part, index) => (
          <PartOutline key={index} owner={opened} part={part} index={index} map={map} />
        ))}
      </svg>
      {brush?.owner === opened && <PaintLayer brush={brush} map={map} />}
    </>
  );
}

/** What is done to a shape while it is held, from where it was taken hold of to where the pointer is, in fractions of the source. */
type Change = (shape: Shape, by: Point, to: Point) => Shape;

function PartOutline({ owner, part, index, map }: { owner: string; part: MaskPart; index: number; map: SourceMap }) {
  const bench = useBenchStore();
  const [held, setHeld] = useState<{ from: Point; shape: Shape; change: Change; words: string }>();
  const { shape } = part;
  const mask = (): Mask | undefined => maskOf(livePlan(bench.getState()), owner);
  const stagePoint = (event: PointerEvent<SVGElement>): Point => {
    const box = (event.currentTarget.ownerSVGElement as SVGSVGElement).getBoundingClientRect();
    return map.toSource({ x: event.clientX - box.left, y: event.clientY - box.top });
  };
  const holding = (change: Change, words: string) => ({
    onPointerDown(event: PointerEvent<SVGElement>): void {
      if (event.button !== 0) return;
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      setHeld({ from: stagePoint(event), shape, change, words });
    },
    onPointerMove(event: PointerEvent<SVGElement>): void {
      const now = mask();
      if (!held || !now) return;
      event.stopPropagation();
      const to = stagePoint(event);
      const next = held.change(held.shape, { x: to.x - held.from.x, y: to.y - held.from.y }, to);
      previewMask(bench, owner, replaced(now, index, { shape: next }));
    },
    onPointerUp(event: PointerEvent<SVGElement>): void {
      const now = mask();
      if (!held || !now) return;
      event.stopPropagation();
      setHeld(undefined);
      changeMask(bench, owner, now, held.words);
    },
  });
  const reshape = (next: Shape, words: string): void => {
    const now = mask();
    if (now) changeMask(bench, owner, replaced(now, index, { shape: next }), words);
  };
  const body = holding((s, by) => moved(s, by.x, by.y), 'shape moved');
  return (
    <g>
      <title>{`${index + 1}: ${shapeText(shape)}`}</title>
      {shape.kind !== 'painted' && (
        <>
          <path d={outline(shape, map)} fill="none" stroke="rgb(0 0 0 / 0.6)" strokeWidth={3} />
          <path
            d={outline(shape, map)}
            data-testid={`area-${index}`}
            fill={shape.kind === 'straight' ? 'none' : 'transparent'}
            stroke="white"
            strokeWidth={1}
            className="pointer-events-auto cursor-move"
            {...body}
          />
        </>
      )}
      {shape.kind === 'painted' && <Grip at={map.toStage({ x: shape.x + 0.5, y: shape.y + 0.5 })} name={`move-${index}`} {...body} />}
      {isRounded(shape) && (
        <Grip
          at={map.toStage({ x: shape.x + shape.width, y: shape.y + shape.height })}
          name={`corner-${index}`}
          {...holding((s, by) => stretched(s, by.x, by.y), 'shape resized')}
        />
      )}
      {(shape.kind === 'oval' || shape.kind === 'box') && (
        <Grip
          at={turnedPoint(shape, map, 0, -1.25)}
          name={`turn-${index}`}
          round
          {...holding((s, _, to) => turnedTowards(s as typeof shape, to, map), 'shape turned')}
        />
      )}
      {shape.kind === 'straight' &&
        (['from', 'to'] as const).map((end) => (
          <Grip
            key={end}
            at={map.toStage(shape[end])}
            name={`${end}-${index}`}
            {...holding((s, _, to) => ({ ...(s as typeof shape), [end]: to }), 'gradient changed')}
          />
        ))}
      {shape.kind === 'polygon' &&
        shape.corners.map((corner, n) => (
          <g key={n}>
            <Grip
              at={map.toStage(corner)}
              name={`corner-${index}-${n}`}
              {...holding(
                (s, _, to) => ({ ...(s as typeof shape), corners: cornerMoved((s as typeof shape).corners, n, to) }),
                'corner moved',
              )}
              onDoubleClick={() => reshape({ ...shape, corners: cornerRemoved(shape.corners, n) }, 'corner removed')}
            />
            <Grip
              at={map.toStage(middleOf(shape.corners.at(n - 1) as Point, corner))}
              name={`side-${index}-${n}`}
              small
              onPointerDown={(event) => {
                event.stopPropagation();
                reshape({ ...shape, corners: cornerAdded(shape.corners, n) }, 'corner added');
              }}
            />
          </g>
        ))}
    </g>
  );
}

const middleOf = (a: Point, b: Point): Point => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });

function Grip({
  at,
  name,
  small = false,
  round = false,
  ...held
}: { at: Point; name: string; small?: boolean; round?: boolean } & React.SVGAttributes<SVGRectElement>) {
  const side = small ? 6 : 10;
  return (
    <rect
      x={at.x - side / 2}
      y={at.y - side / 2}
      width={side}
      height={side}
      rx={round ? side / 2 : 0}
      fill="white"
      stroke="rgb(0 0 0 / 0.7)"
      opacity={small ? 0.7 : 1}
      data-testid={name}
      className="pointer-events-auto cursor-pointer"
      {...held}
    />
  );
}

/** Sides an oval is drawn with. */
const SIDES = 72;

type Turned = Extract<Shape, { turn: number }>;

/** A point of an oval or a box, from -1 to 1 across it, on the stage. It is turned in the source's pixels, as the mask is. */
function turnedPoint(shape: Extract<Shape, { width: number }>, { source, toStage }: SourceMap, u: number, v: number): Point {
  const angle = (('turn' in shape ? shape.turn : 0) * Math.PI) / 180;
  const x = (u * shape.width * source.width) / 2,
    y = (v * shape.height * source.height) / 2;
  return toStage({
    x: shape.x + shape.width / 2 + (Math.cos(angle) * x - Math.sin(angle) * y) / source.width,
    y: shape.y + shape.height / 2 + (Math.sin(angle) * x + Math.cos(angle) * y) / source.height,
  });
}

/** The shape turned so that its upper side looks at a point. */
function turnedTowards(shape: Turned, to: Point, { source }: SourceMap): Turned {
  const x = (to.x - shape.x - shape.width / 2) * source.width,
    y = (to.y - shape.y - shape.height / 2) * source.height;
  return { ...shape, turn: Math.round((Math.atan2(x, -y) * 180) / Math.PI) };
}

function outline(shape: Exclude<Shape, { kind: 'painted' }>, map: SourceMap): string {
  const points = isRounded(shape)
    ? shape.kind === 'box'
      ? [turnedPoint(shape, map, -1, -1), turnedPoint(shape, map, 1, -1), turnedPoint(shape, map, 1, 1), turnedPoint(shape, map, -1, 1)]
      : Array.from({ length: SIDES }, (_, n) =>
          turnedPoint(shape, map, Math.cos((2 * Math.PI * n) / SIDES), Math.sin((2 * Math.PI * n) / SIDES)),
        )
    : (shape.kind === 'polygon' ? shape.corners : [shape.from, shape.to]).map(map.toStage);
  return `M${points.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}${shape.kind === 'straight' ? '' : 'Z'}`;
}
