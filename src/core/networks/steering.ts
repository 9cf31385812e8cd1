import type { Region } from '../picture/picture';

/** A strength: one for all, or one for every pixel of the frame part being cleaned. */
export type Strength = number | { region: Region; values: Float32Array };

/** What a network is to take for damage. Zero leaves that kind alone. */
export interface Steering {
  /** Deviation of the grain in codes of 255. */
  grainLuma: Strength;
  grainChroma: Strength;
  /** Quantiser step of a block codec, in codes of 255 on orthonormal transform coefficients. */
  step: Strength;
  /** Deviation of the blur, in pixels. */
  blur: Strength;
  /** Radius of the luma's grains in pixels, 0 for single pixels. */
  grainSize: Strength;
}

/** How much of a correction is applied, 0 to 1. */
export interface Share {
  luma: number;
  chroma: number;
}

/** One step's request to the networks that clean. */
export interface CleanRequest {
  steering: Partial<Steering>;
  share: Share;
  /** Whether the neighbouring frames shall help. */
  moving?: boolean;
  /** Frames each way that help where nothing moves. */
  still?: number;
}

/**
 * Several requests as one: what each kind of damage is to be taken for, and, for luma and for chroma, the least share of those
 * who ask for any. Kinds named twice are taken at the stronger; a request for nothing has no say.
 */
export function combined(asked: CleanRequest[]): { steering: Steering; share: Share; moving: boolean; still: number } {
  const requests = asked.filter(({ share }) => share.luma > 0 || share.chroma > 0);
  const least = (plane: keyof Share): number => {
    const shares = requests.map((r) => r.share[plane]).filter((s) => s > 0);
    return shares.length ? Math.min(...shares) : 0;
  };
  const strongest = (kind: keyof Steering): Strength =>
    requests
      .map((r) => r.steering[kind])
      .filter((s) => s !== undefined)
      .reduce(stronger, 0);
  return {
    steering: {
      grainLuma: strongest('grainLuma'),
      grainChroma: strongest('grainChroma'),
      step: strongest('step'),
      blur: strongest('blur'),
      grainSize: strongest('grainSize'),
    },
    share: { luma: least('luma'), chroma: least('chroma') },
    moving: requests.some((r) => r.moving),
    still: Math.max(0, ...requests.map((r) => r.still ?? 0)),
  };
}

/** The stronger of two at each pixel; planes are of one region. */
function stronger(a: Strength, b: Strength): Strength {
  if (typeof a === 'number') return typeof b === 'number' ? Math.max(a, b) : a === 0 ? b : stronger(b, a);
  const values = a.values.map((v, i) => Math.max(v, typeof b === 'number' ? b : b.values[i]));
  return { region: a.region, values };
}

/** Strengths that stand for 1 in the networks' planes, as in `training/samples.py`, in the planes' order. */
export const UNITS: Record<keyof Steering, number> = { grainLuma: 32, grainChroma: 32, step: 64, blur: 2, grainSize: 1.5 };
export const KINDS = Object.keys(UNITS) as (keyof Steering)[];

/** The greatest value a strength takes. */
export const most = (strength: Strength): number =>
  typeof strength === 'number' ? strength : strength.values.reduce((a, b) => Math.max(a, b), 0);

/** The steering planes of a part of the frame, at half its size, from `at` on: means of four pixels. */
export function putSteering(steering: Steering, part: Region, out: Float32Array, at: number): void {
  const size = (part.width * part.height) / 4;
  for (const [n, kind] of KINDS.entries()) putStrength(steering[kind], UNITS[kind], part, out, at + n * size);
}

function putStrength(strength: Strength, unit: number, part: Region, out: Float32Array, at: number): void {
  const w = part.width >> 1,
    h = part.height >> 1;
  if (typeof strength === 'number') {
    out.fill(strength / unit, at, at + w * h);
    return;
  }
  const { region, values } = strength;
  const value = (x: number, y: number): number =>
    values[Math.min(region.height - 1, Math.max(0, y - region.y)) * region.width + Math.min(region.width - 1, Math.max(0, x - region.x))];
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const px = part.x + 2 * x,
        py = part.y + 2 * y;
      out[at + y * w + x] = (value(px, py) + value(px + 1, py) + value(px, py + 1) + value(px + 1, py + 1)) / (4 * unit);
    }
  }
}
