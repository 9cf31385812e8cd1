'use client';

import { useEffect, useState, type PointerEvent } from 'react';
import { toast } from 'sonner';
import { colourOf } from '../../../shared/settings';
import type { Placement } from '../picture/geometry';
import { changeSetting } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';
import { addFace } from '../faces/faceActions';
import { pixelsBefore } from './before';

/** Side, in pixels of the output, of what is picked: grain averages out in it, and a button fits. */
const SIDE = 7;

/** Takes a place of the picture: the colour that the step reads there becomes its setting; or two, the eyes of a face. */
export function PickLayer({ at }: { at: Placement }) {
  const bench = useBenchStore();
  const picking = useBench((s) => (s.picking && s.picking.owner === s.opened ? s.picking : undefined));
  const output = useBench((s) => s.output);
  const [asking] = useState(() => new AbortController());
  const [place, setPlace] = useState<{ x: number; y: number }>();
  useEffect(() => () => asking.abort(), [asking]);
  useEffect(() => {
    if (!picking) return;
    const close = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') bench.setState({ picking: undefined });
    };
    window.addEventListener('keydown', close);
    return () => window.removeEventListener('keydown', close);
  }, [bench, picking]);
  if (!picking) return null;
  const pick = async (event: PointerEvent<HTMLDivElement>): Promise<void> => {
    const box = event.currentTarget.getBoundingClientRect();
    const u = (event.clientX - box.left - at.x) / at.width,
      v = (event.clientY - box.top - at.y) / at.height;
    if (u < 0 || v < 0 || u > 1 || v > 1) return;
    if (picking.face) {
      const { eye } = picking;
      bench.setState({ picking: eye ? undefined : { ...picking, eye: { u, v } } });
      if (eye && (eye.u !== u || eye.v !== v)) addFace(bench, picking.owner, eye, { u, v });
      return;
    }
    const width = Math.min(1, SIDE / output.width),
      height = Math.min(1, SIDE / output.height);
    const held = (t: number, room: number): number => Math.min(1 - room, Math.max(0, t - room / 2));
    try {
      const fit = { width: 32, height: 32 };
      const pixels = await pixelsBefore(bench, picking.owner, { x: held(u, width), y: held(v, height), width, height }, fit, asking.signal);
      if (!pixels) return;
      const mean = [0, 1, 2].map((c) => {
        let sum = 0;
        for (let i = c; i < pixels.length; i += 4) sum += pixels[i];
        return (257 * sum) / (pixels.length / 4);
      });
      bench.setState({ picking: undefined });
      changeSetting(bench, picking.owner, picking.key, colourOf(mean));
    } catch (error) {
      if (!asking.signal.aborted) toast.error(`The colour was not taken: ${(error as Error).message}`);
    }
  };
  return (
    <div
      data-testid="pick-layer"
      className="absolute inset-0 cursor-crosshair touch-none"
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.stopPropagation();
        void pick(event);
      }}
      onPointerMove={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        setPlace({ x: event.clientX - box.left, y: event.clientY - box.top });
      }}
      onPointerLeave={() => setPlace(undefined)}
    >
      {(place ?? picking.eye) && (
        <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
          {[place, picking.eye && { x: at.x + picking.eye.u * at.width, y: at.y + picking.eye.v * at.height }].map(
            (spot, n) =>
              spot && (
                <g key={n}>
                  <rect x={spot.x - 7} y={spot.y - 7} width={14} height={14} fill="none" stroke="rgb(0 0 0 / 0.7)" strokeWidth={3} />
                  <rect x={spot.x - 7} y={spot.y - 7} width={14} height={14} fill="none" stroke="white" strokeWidth={1} />
                </g>
              ),
          )}
        </svg>
      )}
    </div>
  );
}
