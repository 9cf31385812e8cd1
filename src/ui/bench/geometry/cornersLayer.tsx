'use client';

import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { stepOf } from '../../../shared/plan';
import { cornersOf, cornersText } from '../../../shared/settings';
import type { Placement } from '../picture/geometry';
import { changeSettings } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';

const NAMES = ['upper left', 'upper right', 'lower right', 'lower left'];
/** Half of a handle, in pixels of the screen, and how far an arrow key moves one; with Shift, and without. */
const HANDLE = 7,
  STEP = 0.0005,
  FAR_STEP = 0.01;

interface Point {
  x: number;
  y: number;
}

/** The corners of a paper over the picture, to be dragged; what lies outside of them is dimmed. */
export function CornersLayer({ at }: { at: Placement }) {
  const cornering = useBench((s) => (s.cornering?.owner === s.opened ? s.cornering : undefined));
  const step = useBench((s) => stepOf(s.plan, cornering?.owner));
  if (!cornering || !step) return null;
  return <Handles key={step.id} at={at} owner={step.id} setting={cornering.key} value={String(step.settings[cornering.key])} />;
}

function Handles({ at, owner, setting, value }: { at: Placement; owner: string; setting: string; value: string }) {
  const bench = useBenchStore();
  const [corners, setCorners] = useState<Point[]>(() => [...cornersOf(value)]);
  const [held, setHeld] = useState<number>();
  const layer = useRef<HTMLDivElement>(null);
  const shown = corners.map(({ x, y }) => ({ x: at.x + x * at.width, y: at.y + y * at.height }));
  const move = (index: number, to: Point): void => setCorners((old) => old.map((p, i) => (i === index ? to : p)));
  const place = (event: PointerEvent): Point => {
    const box = (layer.current as HTMLDivElement).getBoundingClientRect();
    return { x: (event.clientX - box.left - at.x) / at.width, y: (event.clientY - box.top - at.y) / at.height };
  };
  const keys = (event: KeyboardEvent, index: number): void => {
    const far = event.shiftKey ? FAR_STEP : STEP;
    const by = { ArrowLeft: [-far, 0], ArrowRight: [far, 0], ArrowUp: [0, -far], ArrowDown: [0, far] }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    move(index, { x: corners[index].x + by[0], y: corners[index].y + by[1] });
  };
  const take = (): void => {
    bench.setState({ cornering: undefined });
    changeSettings(bench, owner, { [setting]: cornersText(corners) }, 'corners set');
  };
  const outline = shown.map(({ x, y }) => `${x} ${y}`).join('L');
  return (
    <div ref={layer} className="pointer-events-none absolute inset-0" data-testid="corners-layer">
      <svg className="absolute inset-0 h-full w-full">
        <path
          d={`M${at.x} ${at.y}h${at.width}v${at.height}h${-at.width}zM${outline}z`}
          fill="rgb(0 0 0 / 0.45)"
          fillRule="evenodd"
          aria-hidden
        />
        <path d={`M${outline}z`} fill="none" stroke="rgb(0 0 0 / 0.6)" strokeWidth={3} aria-hidden />
        <path d={`M${outline}z`} fill="none" stroke="white" strokeWidth={1} aria-hidden />
        {shown.map(({ x, y }, index) => (
          <path
            key={index}
            d={`M${x} ${y - HANDLE}L${x + HANDLE} ${y}L${x} ${y + HANDLE}L${x - HANDLE} ${y}z`}
            fill={held === index ? 'white' : 'rgb(0 0 0 / 0.55)'}
            stroke="white"
            strokeWidth={1.5}
            className="pointer-events-auto cursor-move touch-none"
            role="button"
            tabIndex={0}
            aria-label={`Corner, ${NAMES[index]}`}
            data-testid={`corner-${index}`}
            onKeyDown={(event) => keys(event, index)}
            onPointerDown={(event) => {
              if (event.button !== 0) return;
              event.stopPropagation();
              event.currentTarget.setPointerCapture(event.pointerId);
              setHeld(index);
            }}
            onPointerMove={(event) => {
              if (held !== index) return;
              event.stopPropagation();
              move(index, place(event));
            }}
            onPointerUp={(event) => {
              event.stopPropagation();
              setHeld(undefined);
            }}
          />
        ))}
      </svg>
      <div
        className="pointer-events-auto absolute bottom-4 left-1/2 z-10 flex -translate-x-1/2 gap-2"
        // The stage would take the pointer for moving the picture.
        onPointerDown={(event) => event.stopPropagation()}
      >
        <button type="button" className="btn btn-act" onClick={take}>
          Take these corners
        </button>
        <button type="button" className="btn" onClick={() => bench.setState({ cornering: undefined, draft: undefined })}>
          Leave
        </button>
      </div>
    </div>
  );
}
