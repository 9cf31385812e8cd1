import { solvedEquations } from '../equations';
import type { UnevenLight } from '../tone/look';
import { median } from '../metrics/median';

/** Longest side of what is looked at. */
export const SIDE = 320;

/** A small picture. */
export interface Thumbnail {
  width: number;
  height: number;
  /** Codes of 255. */
  luma: Float32Array;
  /** Red, green and blue, in stops. */
  stops: Float32Array[];
}

/** The white border of a print. */
export interface Paper {
  /** Its red, green and blue in stops, once its light is evened. */
  stops: [number, number, number];
  /** What is to be given to make its light even. */
  uneven: UnevenLight;
}

/** Depth from the edge to which a border is looked for, as a share of the shorter side, and lines of it that must be there. */
const DEPTH = 0.12,
  LEAST_LINES = 3;
/** Share of a line at either end that is not looked at: other borders cross it there. */
const ENDS = 0.12;
/** Codes by which neighbours along a line of paper differ on average, and codes that a line may leave its own trend. */
const EVEN = 2,
  TREND = 7;
/** Codes of 255 that paper has at least, and share of the picture it must be lighter than. */
const LIGHT = 95,
  LIGHTER_THAN = 0.55;
/** Sides that must have a border, and stops by which their colours may differ. */
const SIDES = 3,
  ALIKE = 0.16;

interface Sample {
  u: number;
  v: number;
  at: number;
}

/** The border of white paper round a picture; undefined where there is none on three sides at least. */
export function paperOf(picture: Thumbnail): Paper | undefined {
  const { luma, stops } = picture;
  const sorted = luma.slice().sort();
  const light = Math.max(LIGHT, sorted[Math.floor(LIGHTER_THAN * (sorted.length - 1))]);
  const sides = (['left', 'right', 'top', 'bottom'] as const).map((side) => borderOf(picture, side, light)).filter((s) => s.length > 0);
  if (sides.length < SIDES) return undefined;
  const casts = sides.map((side) => {
    const [r, g, b] = stops.map((plane) => median(side.map(({ at }) => plane[at])));
    return [r - g, b - g];
  });
  const alike = [0, 1].every((c) => Math.max(...casts.map((cast) => cast[c])) - Math.min(...casts.map((cast) => cast[c])) < ALIKE);
  if (!alike) return undefined;
  const samples = sides.flat();
  const uneven = likely(
    samples,
    samples.map(({ at }) => (stops[0][at] + stops[1][at] + stops[2][at]) / 3),
  );
  const evened = stops.map((plane) =>
    median(samples.map(({ at, u, v }) => plane[at] + (uneven.across * u + uneven.down * v + uneven.corners * (u * u + v * v)) / 2)),
  );
  return { stops: evened as Paper['stops'], uneven };
}

/** Pixels of the border on one side: lines along it that are even and light, one after the other. */
function borderOf({ width, height, luma }: Thumbnail, side: 'left' | 'right' | 'top' | 'bottom', light: number): Sample[] {
  const upright = side === 'left' || side === 'right';
  const length = upright ? height : width,
    depth = Math.floor(DEPTH * Math.min(width, height));
  const from = Math.ceil(ENDS * length),
    to = length - from;
  const place = (line: number, n: number): { x: number; y: number } => {
    const across = side === 'left' || side === 'top' ? line : (upright ? width : height) - 1 - line;
    return upright ? { x: across, y: n } : { x: n, y: across };
  };
  const lineAt = (line: number): number[] =>
    Array.from({ length: to - from }, (_, n) => {
      const { x, y } = place(line, from + n);
      return luma[y * width + x];
    });
  let best: number[] = [],
    run: number[] = [];
  // The outermost line may hold what lies beyond the paper.
  for (let line = 1; line < depth; line++) {
    if (isPaper(lineAt(line), light)) run = [...run, line];
    else run = [];
    if (run.length > best.length) best = run;
  }
  if (best.length < LEAST_LINES) return [];
  // The innermost line may hold a share of the picture.
  return best.slice(0, -1).flatMap((line) =>
    Array.from({ length: to - from }, (_, n) => {
      const { x, y } = place(line, from + n);
      return { u: (2 * (x + 0.5)) / width - 1, v: (2 * (y + 0.5)) / height - 1, at: y * width + x };
    }),
  );
}

/** Whether a line is as even as paper is, whatever light falls off along it. */
function isPaper(line: number[], light: number): boolean {
  if (median(line) < light) return false;
  let steps = 0;
  for (let i = 1; i < line.length; i++) steps += Math.abs(line[i] - line[i - 1]);
  if (steps / (line.length - 1) > EVEN) return false;
  // A parabola is trend enough; nine parts of ten lie by it.
  const third = Math.floor(line.length / 3);
  const [a, b, c] = [0, 1, 2].map((n) => median(line.slice(n * third, (n + 1) * third)));
  const off = line.map((v, i) => {
    const t = (i - (line.length - 1) / 2) / third;
    return Math.abs(v - (b + ((c - a) / 2) * t + ((a + c) / 2 - b) * t * t));
  });
  return off.sort((x, y) => x - y)[Math.floor(0.9 * (off.length - 1))] < TREND;
}

/** Stops of light that are taken for its falling off at most: paper is darkened by age and hands as well. */
const LIKELY = 1.2;

/** Uneven light as lenses and lamps make it: the corners dark rather than the middle. None where the border says something else. */
function likely(samples: Sample[], stops: number[]): UnevenLight {
  const whole = unevennessOf(samples, stops, true);
  const found = whole.corners < 0 || whole.corners > LIKELY ? unevennessOf(samples, stops, false) : whole;
  return Math.max(Math.abs(found.across), Math.abs(found.down)) > LIKELY ? { across: 0, down: 0, corners: 0 } : found;
}

/** What makes light even again, by least squares over samples in stops, twice, the second time without those that lie far off. */
function unevennessOf(samples: Sample[], stops: number[], corners: boolean): UnevenLight {
  const row = ({ u, v }: Sample): number[] => [1, u / 2, v / 2, corners ? (u * u + v * v) / 2 : 0];
  let kept = samples.map((_, i) => i);
  let found = [0, 0, 0, 0];
  for (let round = 0; round < 2; round++) {
    const matrix = Array.from({ length: 4 }, () => new Array<number>(5).fill(0));
    for (const i of kept) {
      const r = row(samples[i]);
      for (let a = 0; a < 4; a++) {
        for (let b = 0; b < 4; b++) matrix[a][b] += r[a] * r[b];
        matrix[a][4] += r[a] * stops[i];
      }
    }
    found = solvedEquations(matrix);
    const off = samples.map((s, i) => Math.abs(stops[i] - row(s).reduce((sum, v, k) => sum + v * found[k], 0)));
    const most = 3 * median(off) + 1e-3;
    kept = kept.filter((i) => off[i] <= most);
  }
  return { across: -found[1], down: -found[2], corners: -found[3] };
}
