import { useMemo } from 'react';
import { composePlaces, invertPlace, pointAt, scaling, type Projective } from '../../../shared/maps/place';
import type { Point } from '../../../shared/masks/mask';
import type { Placement } from '../picture/geometry';
import { useBench } from '../state/store';

/** The way between the stage and the source: masks lie in the source, whatever the plan does to the picture. */
export interface SourceMap {
  /** Where pixels of the stage lie in the source, in its pixels. */
  place: Projective;
  /** Size of the source in pixels. */
  source: { width: number; height: number };
  /** A point of the source, in fractions of it, on the stage, in its pixels. */
  toStage(p: Point): Point;
  /** A point of the stage, in its pixels, in fractions of the source. */
  toSource(p: Point): Point;
}

/** @param at where the plan's output lies on the stage. */
export function useSourceMap(at: Placement): SourceMap {
  const geometry = useBench((s) => s.description.geometry);
  const output = useBench((s) => s.description.output);
  const source = useBench((s) => s.description.source);
  const { x, y, width, height } = at;
  return useMemo(() => {
    const sx = output.width / Math.max(1, width),
      sy = output.height / Math.max(1, height);
    const place = composePlaces(geometry, scaling(sx, sy, -x * sx, -y * sy));
    const back = invertPlace(place);
    return {
      place,
      source,
      toStage: (p) => pointAt(back, p.x * source.width, p.y * source.height),
      toSource(p) {
        const there = pointAt(place, p.x, p.y);
        return { x: there.x / source.width, y: there.y / source.height };
      },
    };
  }, [geometry, output, source, x, y, width, height]);
}
