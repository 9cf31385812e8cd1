'use client';

import { useState, type PointerEvent } from 'react';
import { COLOURED, CORRECTIONS, MARK_LIMITS, TAKEN_AWAY, type MarkPoint, type StrokeMark } from '../../../shared/marks';
import { stepOf, type PlanStep } from '../../../shared/plan';
import { useAppearance } from '../../parts/appearance';
import { useSourceMap, type SourceMap } from '../masks/sourceMap';
import { cssColour } from '../colour/hintColour';
import { StrokeLayer } from '../masks/strokeLayer';
import type { Placement } from '../picture/geometry';
import { livePlan, useBench, useBenchStore } from '../state/store';
import { isOn, ofFrame, seenFrame } from './frames';
import { changeStrokes, useStrokes } from './strokes';
import { usesOf } from './uses';

/** The marks of the open step over the picture: their paths, the handles of the chosen one, and new ones as they are made. */
export function HandOverlay({ at }: { at: Placement }) {
  const step = useBench((s) => stepOf(livePlan(s), s.opened));
  const hand = useBench((s) => s.hand);
  const marks = useBench((s) => s.treatments.find((t) => t.id === step?.treatment)?.marks);
  const map = useSourceMap(at);
  if (!step || !marks) return null;
  return (
    <>
      {hand?.owner === step.id && <MarkingLayer step={step} map={map} />}
      <Marks step={step} map={map} />
    </>
  );
}

function MarkingLayer({ step, map }: { step: PlanStep; map: SourceMap }) {
  const bench = useBenchStore();
  const hand = useBench((s) => s.hand);
  const colour = useAppearance((s) => s.tintColour);
  if (!hand) return null;
  const { source } = map;
  const limits = MARK_LIMITS.size;
  return (
    <StrokeLayer
      map={map}
      size={hand.size}
      colour={TAKEN_AWAY.includes(hand.use) ? '#777777' : COLOURED.includes(hand.use) ? cssColour(hand.colour) : colour}
      opacity={0.5}
      dashed={TAKEN_AWAY.includes(hand.use)}
      onStroke={async (points) => {
        const mark: StrokeMark = {
          id: crypto.randomUUID(),
          ...{ use: hand.use, on: true, softness: hand.softness / 100 },
          ...(COLOURED.includes(hand.use) && { colour: hand.colour }),
          ...ofFrame(hand.use, seenFrame(bench.getState())),
          points: thinned(points.map(({ x, y }) => ({ x: rounded(x * source.width), y: rounded(y * source.height) }))),
          size: Math.min(limits.max, Math.max(limits.min, rounded(hand.size * source.height))),
        };
        const words = usesOf(step.treatment).find(({ use }) => use === hand.use)?.name ?? hand.use;
        await changeStrokes(bench, step.id, { set: [mark] }, `${words} marked`);
        if (!CORRECTIONS.includes(hand.use)) bench.setState({ chosen: mark.id });
      }}
    />
  );
}

/** Tenths of a pixel are as fine as a hand is. */
const rounded = (v: number): number => Math.round(v * 10) / 10;

/** At most as many points as a mark may have, evenly along it. */
function thinned(points: MarkPoint[]): MarkPoint[] {
  const stride = Math.ceil(points.length / MARK_LIMITS.points);
  return stride === 1 ? points : points.filter((_, n) => n % stride === 0);
}

function Marks({ step, map }: { step: PlanStep; map: SourceMap }) {
  const strokes = useStrokes(step.marks);
  const chosen = useBench((s) => s.chosen);
  const seen = useBench(seenFrame);
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full overflow-visible" aria-hidden>
      {strokes.map(
        (mark, index) =>
          isOn(mark, seen) && <MarkShape key={mark.id} step={step} mark={mark} index={index} map={map} chosen={mark.id === chosen} />,
      )}
    </svg>
  );
}

/** What of a mark is held. */
interface Held {
  part: 'body' | 'from';
  x: number;
  y: number;
}

function MarkShape({
  step,
  mark,
  index,
  map,
  chosen,
}: {
  step: PlanStep;
  mark: StrokeMark;
  index: number;
  map: SourceMap;
  chosen: boolean;
}) {
  const bench = useBenchStore();
  const [held, setHeld] = useState<Held>();
  const [by, setBy] = useState<MarkPoint>({ x: 0, y: 0 });
  const { source } = map;
  const stagePoint = (p: MarkPoint): MarkPoint => map.toStage({ x: p.x / source.width, y: p.y / source.height });
  const sourceAt = (event: PointerEvent<SVGElement>): MarkPoint => {
    const box = (event.currentTarget.ownerSVGElement as SVGSVGElement).getBoundingClientRect();
    const p = map.toSource({ x: event.clientX - box.left, y: event.clientY - box.top });
    return { x: p.x * source.width, y: p.y * source.height };
  };
  const shift = held?.part === 'body' ? by : { x: 0, y: 0 };
  const points = mark.points.map((p) => stagePoint({ x: p.x + shift.x, y: p.y + shift.y }));
  const d = pathOf(points);
  const [first] = mark.points;
  const beside = stagePoint({ x: first.x + mark.size, y: first.y }),
    begin = stagePoint(first);
  const width = Math.hypot(beside.x - begin.x, beside.y - begin.y);
  const from = mark.from && held?.part === 'from' ? { x: mark.from.x + by.x, y: mark.from.y + by.y } : mark.from;
  const copied = from && stagePoint({ x: first.x + from.x + shift.x, y: first.y + from.y + shift.y });
  const holding = (part: Held['part']) => ({
    onPointerDown(event: PointerEvent<SVGElement>): void {
      if (event.button !== 0) return;
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      setHeld({ part, ...sourceAt(event) });
      setBy({ x: 0, y: 0 });
      bench.setState({ chosen: mark.id });
    },
    onPointerMove(event: PointerEvent<SVGElement>): void {
      if (!held) return;
      event.stopPropagation();
      const to = sourceAt(event);
      setBy({ x: rounded(to.x - held.x), y: rounded(to.y - held.y) });
    },
    onPointerUp(event: PointerEvent<SVGElement>): void {
      if (!held) return;
      event.stopPropagation();
      setHeld(undefined);
      if (Math.hypot(by.x, by.y) < 0.5) return;
      const set: StrokeMark =
        part === 'from' && mark.from
          ? { ...mark, from: { x: mark.from.x + by.x, y: mark.from.y + by.y } }
          : { ...mark, points: mark.points.map((p) => ({ x: rounded(p.x + by.x), y: rounded(p.y + by.y) })) };
      void changeStrokes(bench, step.id, { set: [set] }, `mark ${index + 1} ${part === 'from' ? 'copied from elsewhere' : 'moved'}`);
    },
  });
  return (
    <g opacity={mark.on ? 1 : 0.4}>
      <title>{`mark ${index + 1}`}</title>
      {chosen && (
        <path
          d={d}
          fill="none"
          stroke="white"
          strokeOpacity={0.25}
          strokeWidth={Math.max(4, width)}
          strokeLinecap="round"
          strokeLinejoin="round"
          className="pointer-events-auto cursor-move"
          {...holding('body')}
        />
      )}
      {mark.points.length > 1 && (
        <>
          <path d={d} fill="none" stroke="rgb(0 0 0 / 0.6)" strokeWidth={3} />
          <path d={d} fill="none" stroke="white" strokeWidth={1} strokeDasharray={TAKEN_AWAY.includes(mark.use) ? '4 3' : undefined} />
        </>
      )}
      {copied && (
        <>
          <line x1={points[0].x} y1={points[0].y} x2={copied.x} y2={copied.y} stroke="rgb(0 0 0 / 0.6)" strokeWidth={3} />
          <line x1={points[0].x} y1={points[0].y} x2={copied.x} y2={copied.y} stroke="white" strokeWidth={1} />
          <circle
            cx={copied.x}
            cy={copied.y}
            r={Math.max(6, width / 2)}
            fill="rgb(255 255 255 / 0.12)"
            stroke="white"
            strokeWidth={1.5}
            data-testid={`mark-from-${index}`}
            className="pointer-events-auto cursor-move"
            {...holding('from')}
          />
        </>
      )}
      <rect
        x={points[0].x - 4.5}
        y={points[0].y - 4.5}
        width={9}
        height={9}
        fill={mark.colour ? cssColour(mark.colour) : chosen ? 'white' : 'rgb(0 0 0 / 0.55)'}
        stroke={chosen ? 'rgb(0 0 0 / 0.7)' : 'white'}
        data-testid={`mark-${index}`}
        className="pointer-events-auto cursor-move"
        {...holding('body')}
      />
    </g>
  );
}

const pathOf = (points: MarkPoint[]): string => {
  const all = points.length === 1 ? [points[0], points[0]] : points;
  return `M${all.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}`;
};
