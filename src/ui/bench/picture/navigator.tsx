import type { PointerEvent } from 'react';
import { displayWidth } from '../../../shared/display';
import { arrows } from './arrows';
import { clamp01 } from './geometry';
import { useBench, useBenchStore } from '../state/store';
import type { Place } from '../../../shared/maps/place';

/** Longest side of the small picture, pixels. */
const SIDE = 132;

/** All of the picture, small, with the part in view; dragging it or the arrow keys move the view. Shown when zoomed in. */
export function Navigator({ part }: { part: Place | undefined }) {
  const bench = useBenchStore();
  const output = useBench((s) => s.output);
  const item = useBench((s) => s.item);
  const description = useBench((s) => s.description);
  if (!part || (part.width > 0.995 && part.height > 0.995)) return null;
  const shape = displayWidth(output) / output.height;
  const width = shape >= 1 ? SIDE : SIDE * shape,
    height = shape >= 1 ? SIDE / shape : SIDE;
  // The thumbnail is the source's: where its frame lies in the output.
  const place = description.steps.find((s) => s.place)?.place ?? { x: 0, y: 0, width: 1, height: 1 };
  const bring = (event: PointerEvent<HTMLDivElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    const { view } = bench.getState();
    bench.setState({
      view: { ...view, u: clamp01((event.clientX - box.left) / box.width), v: clamp01((event.clientY - box.top) / box.height) },
    });
  };
  return (
    <div
      role="group"
      tabIndex={0}
      aria-label={`Part in view: ${Math.round(part.width * 100)} by ${Math.round(part.height * 100)} % of the picture; arrow keys move it`}
      data-testid="navigator"
      className="absolute right-2 bottom-2 cursor-crosshair touch-none overflow-hidden border border-white bg-[#3c3c3c] outline-1 outline-black/60"
      style={{ width, height }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        bring(event);
      }}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        event.stopPropagation();
        bring(event);
      }}
      onDoubleClick={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        const by = arrows(event, 0.02);
        if (!by) return;
        event.preventDefault();
        event.stopPropagation();
        const { view } = bench.getState();
        bench.setState({ view: { ...view, u: clamp01(view.u + by.dx), v: clamp01(view.v + by.dy) } });
      }}
    >
      {/* A thumbnail of the archive's own; the framework's image service would only copy it. */}
      {/* eslint-disable-next-line @next/next/no-img-element */}
      <img
        src={`/api/items/${item.id}/thumbnail`}
        alt=""
        draggable={false}
        className="pointer-events-none absolute max-w-none"
        style={{ left: `${place.x * 100}%`, top: `${place.y * 100}%`, width: `${place.width * 100}%`, height: `${place.height * 100}%` }}
      />
      <span
        className="pointer-events-none absolute border border-white outline-1 outline-black/70"
        style={{ left: `${part.x * 100}%`, top: `${part.y * 100}%`, width: `${part.width * 100}%`, height: `${part.height * 100}%` }}
      />
    </div>
  );
}
