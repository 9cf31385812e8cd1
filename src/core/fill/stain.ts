import { smoothFill } from './guess';
import { depths, type Hole } from './hole';
import { meansWithin } from './means';
import { median } from '../metrics/median';

/** Pixels inside the border over which a stain is compared with what lies outside it: the border itself is often darker. */
const RIM = { from: 1.5, to: 6 };
/** Pixels round each over which what is fine is told from what is not. */
const FINE = 3;
/** Share of the fine detail of the surroundings from which a stain lets the picture through. */
const LETS_THROUGH = 0.3;
/** Codes added to both sides of a ratio, so that black has one. */
const BLACK = 512;

/** What shows through a wide stain, and how deep each pixel lies in it. */
export interface SeenThrough {
  planes: Uint16Array[];
  /** Pixels to the border. */
  depth: Float32Array;
}

/**
 * The picture as it shows through what is wide, brought to the light outside: how much darker and of what colour it is, is measured along the border
 * and carried smoothly inwards. Lightness is divided out, chroma moved.
 *
 * @param smoothly gives the hole filled smoothly, right near its border; asked for only where something is wide.
 * @param deeper pixels from which a hole counts as wide.
 * @returns undefined where nothing is so wide, or hides the picture.
 */
export function seenThrough(hole: Hole, smoothly: () => Float32Array[], deeper: number): SeenThrough | undefined {
  const { width, height, planes, missing } = hole;
  const depth = new Float32Array(depths(missing, width, height)).map((d) => d / 3);
  const wide = depth.map((d) => (d > deeper ? 1 : 0));
  if (
    !wide.includes(1) ||
    detail(hole, new Uint8Array(wide)) <
      LETS_THROUGH *
        detail(
          hole,
          missing.map((m) => 1 - m),
        )
  )
    return undefined;
  const smooth = smoothly();
  // Single pixels say little of the light; many together rule it.
  const known = depth.map((d) => (d >= RIM.from && d <= RIM.to ? 0.1 : 0));
  const off = planes.map((plane, p) => {
    const out = new Float32Array(width * height);
    for (let i = 0; i < out.length; i++) {
      if (known[i] > 0) out[i] = p === 0 ? Math.log((smooth[0][i] + BLACK) / (plane[i] + BLACK)) : smooth[p][i] - plane[i];
    }
    return out;
  });
  const light = smoothFill(off, known, width, height, missing);
  const made = planes.map((plane, p) =>
    plane.map((v, i) => (missing[i] ? held(p === 0 ? (v + BLACK) * Math.exp(light[0][i]) - BLACK : v + light[p][i]) : v)),
  );
  return { planes: made, depth };
}

const held = (v: number): number => Math.min(65535, Math.max(0, Math.round(v)));

/** The middle of how far luma samples lie off their mean within a few pixels, of those that count. */
function detail({ width, height, planes: [luma] }: Hole, counts: Uint8Array): number {
  const mean = meansWithin(luma, counts, width, height, FINE);
  const off: number[] = [];
  for (let i = 0; i < counts.length; i += 3) if (counts[i]) off.push(Math.abs(luma[i] - mean[i]));
  return median(off);
}

/** One fill going over into another between two depths. */
export function deepened(shallow: Uint16Array[], { planes, depth }: SeenThrough, from: number, to: number): Uint16Array[] {
  return shallow.map((plane, p) =>
    plane.map((v, i) => {
      const share = Math.min(1, Math.max(0, (depth[i] - from) / (to - from)));
      return share > 0 ? Math.round(v + share * (planes[p][i] - v)) : v;
    }),
  );
}
