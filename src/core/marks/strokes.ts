import { coverage, touches } from '../../shared/masks/brush';
import { invertPlace, pointAt, type Projective } from '../../shared/maps/place';
import type { StrokeMark, StrokeUse } from '../../shared/marks';
import type { Region } from '../picture/picture';

/** A stroke where it lies in the picture of a node. */
export interface LaidStroke {
  mark: StrokeMark;
  points: { x: number; y: number }[];
  size: number;
  /** How far away it copies from. */
  from?: { x: number; y: number };
  /** All pixels that it touches; may reach beyond the frame. */
  box: Region;
}

/**
 * Strokes that are on, of some uses, in the raster of a node.
 * @param place where the node's pixels lie in the source.
 */
export function laidStrokes(marks: readonly unknown[], uses: readonly StrokeUse[], place: Projective): LaidStroke[] {
  const back = invertPlace(place);
  return (marks as readonly StrokeMark[])
    .filter((mark) => mark.on && uses.includes(mark.use))
    .map((mark) => {
      const points = mark.points.map((p) => pointAt(back, p.x, p.y));
      const [first] = mark.points;
      // Turned or drawn out, a round brush stays round, as large as it is at its beginning.
      const beside = pointAt(back, first.x + 1, first.y);
      const scale = Math.hypot(beside.x - points[0].x, beside.y - points[0].y);
      const size = mark.size * scale;
      const end = mark.from && pointAt(back, first.x + mark.from.x, first.y + mark.from.y);
      const from = end && { x: Math.round(end.x - points[0].x), y: Math.round(end.y - points[0].y) };
      const reach = size / 2 + 1;
      const left = Math.floor(Math.min(...points.map((p) => p.x)) - reach),
        top = Math.floor(Math.min(...points.map((p) => p.y)) - reach),
        right = Math.ceil(Math.max(...points.map((p) => p.x)) + reach),
        bottom = Math.ceil(Math.max(...points.map((p) => p.y)) + reach);
      return { mark, points, size, from, box: { x: left, y: top, width: right - left, height: bottom - top } };
    });
}

/** How far a stroke covers the pixels of a region, 0 to 1. */
export function strokeCover({ points, size, mark }: LaidStroke, region: Region): Float32Array<ArrayBuffer> {
  const { x: left, y: top, width, height } = region;
  const out = new Float32Array(width * height);
  const radius = size / 2,
    reach = radius + 1;
  for (const { x, y } of touches({ points: points.map((p) => ({ ...p, pressure: 1 })), size })) {
    for (let row = Math.max(0, Math.floor(y - reach - top)); row < Math.min(height, Math.ceil(y + reach - top)); row++) {
      for (let column = Math.max(0, Math.floor(x - reach - left)); column < Math.min(width, Math.ceil(x + reach - left)); column++) {
        const share = coverage(Math.hypot(left + column + 0.5 - x, top + row + 0.5 - y), radius, mark.softness);
        const i = row * width + column;
        if (share > out[i]) out[i] = share;
      }
    }
  }
  return out;
}
