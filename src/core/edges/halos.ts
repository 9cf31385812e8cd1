import { extremes } from '../kernels/extremes';
import { newPlane, type Plane, type Region } from '../picture/picture';

/** Pixels round a part that its result depends on, for halos of a width. */
export const haloBorder = (width: number): number => 6 * width + 2;

/** A halo is less than this share of the step it lies beside; what stands out more is a line of its own. */
const LESS_THAN = 0.45;
/** Codes of 255 a step has from which halos are looked for beside it, and from which all of them go. */
const STEP = { from: 8, all: 24 };

/**
 * Bright and dark outlines beside edges taken away: what stands out of its surroundings by less than the edge beside it is high, and is no
 * wider than a halo (openings and closings, Serra, 1982). What is wider, what stands alone, and the edges themselves stay.
 *
 * @param own where the plane lies in the frame; it covers `haloBorder` pixels round `region`, as far as the frame goes.
 * @param width of a halo in pixels.
 * @param amount share that is taken away, 0 to 1; of bright and of dark ones.
 */
export function withoutHalos(
  plane: Plane,
  own: { x: number; y: number },
  region: Region,
  { width, bright, dark }: { width: number; bright: number; dark: number },
): Plane {
  const { width: w, height: h } = plane;
  const luma = new Float32Array(plane.data).map((v) => v / 256);
  const least = (from: Float32Array, radius: number): Float32Array => extremes(from, w, h, radius, 'least'),
    most = (from: Float32Array, radius: number): Float32Array => extremes(from, w, h, radius, 'highest');
  const opened = most(least(luma, width), width),
    closed = least(most(luma, width), width);
  // Without what is narrow in either way: the steps beside which halos lie.
  const plain = least(most(opened, width), width);
  const low = least(plain, 2 * width),
    high = most(plain, 2 * width);
  const made = newPlane(region.width, region.height);
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      const i = (region.y + y - own.y) * w + region.x + x - own.x;
      const step = high[i] - low[i];
      const there = ramp((step - STEP.from) / (STEP.all - STEP.from));
      const over = luma[i] - opened[i],
        under = closed[i] - luma[i];
      const change = dark * there * under * faint(under, step) - bright * there * over * faint(over, step);
      made.data[y * region.width + x] = Math.min(65535, Math.max(0, Math.round(256 * (luma[i] + change))));
    }
  }
  return made;
}

const ramp = (t: number): number => Math.min(1, Math.max(0, t));

/** 1 for what is a halo's height beside a step, 0 for what is too high for one. */
const faint = (height: number, step: number): number => ramp((LESS_THAN - height / Math.max(1, step)) / (0.3 * LESS_THAN));
