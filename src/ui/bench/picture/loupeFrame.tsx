import { arrows } from './arrows';
import { clamp01, type Placement } from './geometry';
import { useBenchStore } from '../state/store';
import type { Place } from '../../../shared/maps/place';

/** The loupe's frame on a picture; the first of two can be moved by keyboard. */
export function LoupeFrame({ box, part, label }: { box: Placement; part: Place; label: boolean }) {
  const bench = useBenchStore();
  return (
    <div
      role="group"
      tabIndex={label ? 0 : -1}
      aria-label="Loupe: arrow keys move it"
      aria-hidden={!label}
      className="pointer-events-none absolute border border-white outline-1 outline-black/60 focus-visible:outline-2"
      style={{
        left: box.x + part.x * box.width,
        top: box.y + part.y * box.height,
        width: part.width * box.width,
        height: part.height * box.height,
      }}
      onKeyDown={(event) => {
        const move = arrows(event, 0.01);
        if (!move) return;
        event.preventDefault();
        event.stopPropagation();
        const { loupe } = bench.getState();
        bench.setState({ loupe: { u: clamp01(loupe.u + move.dx), v: clamp01(loupe.v + move.dy) } });
      }}
    >
      {label && <span className="absolute -top-[17px] -left-px bg-[#3c3c3c] px-1 text-[11px] leading-4 text-white">loupe</span>}
    </div>
  );
}
