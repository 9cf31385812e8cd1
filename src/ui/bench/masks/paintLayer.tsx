'use client';

import { toast } from 'sonner';
import type { StrokePoint } from '../../../shared/masks/brush';
import { api } from '../../parts/api';
import { useAppearance } from '../../parts/appearance';
import { changeMask, maskOf } from '../state/planActions';
import { livePlan, useBenchStore, type Bench, type Brush } from '../state/store';
import { replaced } from './parts';
import type { SourceMap } from './sourceMap';
import { StrokeLayer } from './strokeLayer';
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

/** Takes strokes of the brush over the picture, shows them at once, and has them painted. */
export function PaintLayer({ brush, map }: { brush: Brush; map: SourceMap }) {
  const bench = useBenchStore();
  const { tintColour, tintStrength } = useAppearance((s) => s);
  const { size, softness, flow, mode } = brush;
  return (
    <StrokeLayer
      {...{ map, size }}
      colour={mode === 'add' ? tintColour : '#777777'}
      opacity={tintStrength / 100}
      dashed={mode === 'erase'}
      onStroke={(points) => paint(bench, brush, { points, size, softness: softness / 100, flow: flow / 100, mode })}
    />
  );
}

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
