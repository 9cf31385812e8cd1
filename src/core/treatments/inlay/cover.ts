import type { InlayShape } from '../../../shared/inlay';
import type { Projective } from '../../../shared/maps/place';
import type { Region } from '../../picture/picture';

/** Transition of an edge that lies aslant, in pixels: less would be steps. */
const LEAST = 1;

/** How a picture that is laid in covers what is below. */
export interface Cover {
  shape: InlayShape;
  /** Share of its shorter side over which it fades out, 0 to 0.5. */
  edge: number;
  /** Its size in its own pixels. */
  laid: { width: number; height: number };
}

/** How far pixels of a part are covered, 0 to 1, by the way from the stream's pixels to those of the picture that is laid in. */
export function coverOf(
  { shape, edge, laid: { width, height } }: Cover,
  [a, b, c, d, e, f, g, h, i]: Projective,
  region: Region,
): Float32Array {
  const out = new Float32Array(region.width * region.height);
  const scale = Math.hypot(a, d);
  const aslant = b !== 0 || d !== 0 || g !== 0 || h !== 0 || shape === 'oval';
  const ramp = Math.max(edge * Math.min(width, height), aslant ? LEAST * scale : 0);
  for (let y = 0; y < region.height; y++)
    for (let x = 0; x < region.width; x++) {
      const px = region.x + x + 0.5,
        py = region.y + y + 0.5;
      const w = g * px + h * py + i;
      const u = (a * px + b * py + c) / w,
        v = (d * px + e * py + f) / w;
      const inside = shape === 'whole' ? Math.min(u, width - u, v, height - v) : insideOval(u, v, width, height);
      if (inside > 0) out[y * region.width + x] = ramp > 0 ? eased(Math.min(1, inside / ramp)) : 1;
    }
  return out;
}

/** Pixels that a point lies within the oval that fills a rectangle, nearly. */
const insideOval = (u: number, v: number, width: number, height: number): number =>
  (1 - Math.hypot((2 * u) / width - 1, (2 * v) / height - 1)) * (Math.min(width, height) / 2);

const eased = (v: number): number => v * v * (3 - 2 * v);
