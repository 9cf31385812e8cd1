import { SIGMA_UNIT, type Picture, type Plane } from '../picture/picture';
import { measureBlur } from './blur';
import { fieldChange, zigzag } from './fields';
import { measureGrain } from './grain';
import { fieldOf, measureMovingGrain } from './movingGrain';
import { measureBlocking } from './surface';
import { median } from '../metrics/median';

/** What is followed along the running time. */
export type TraceId = 'combing' | 'grain' | 'flicker' | 'motion' | 'softness' | 'blocks';

export interface TraceKind {
  id: TraceId;
  name: string;
  unit: string;
  /** What it is, in words. */
  about: string;
}

export const TRACE_KINDS: TraceKind[] = [
  { id: 'combing', name: 'combing', unit: '', about: 'how far the lines of both fields stand apart, in codes of 255' },
  { id: 'grain', name: 'grain', unit: 'σ', about: 'deviation of the grain in luma, of 255' },
  { id: 'flicker', name: 'flicker', unit: '', about: 'how far the frame is lighter or darker than those round it, in codes of 255' },
  { id: 'motion', name: 'motion', unit: '', about: 'mean change from the frame before, in codes of 255' },
  { id: 'softness', name: 'softness', unit: 'px', about: 'width of the sharpest edges' },
  { id: 'blocks', name: 'blocks', unit: '×', about: 'steps at the 8 × 8 grid against those elsewhere' },
];

/** What one frame was measured to be. */
export interface FrameMeasures {
  frame: number;
  combing: number;
  grain: number;
  /** Mean luma in codes of 255; flicker is reckoned from it. */
  light: number;
  motion: number;
  /** Width of the clear edges in pixels; null where there are too few. */
  softness: number | null;
  blocks: number;
  /** Distance of the histogram from the frame before, 0 to 1. */
  jump: number;
}

const BINS = 48;

function histogram({ data }: Plane): Float64Array {
  const bins = new Float64Array(BINS);
  let count = 0;
  for (let i = 0; i < data.length; i += 7) {
    bins[(data[i] * BINS) >> 16]++;
    count++;
  }
  return bins.map((v) => v / count);
}

/** Along motion where the frame before says something: what is left where it does not is what stands still. */
function grainOf(luma: Plane, earlier: Plane | undefined, byLines: boolean): number {
  const alone = measureGrain(luma, byLines).sigma;
  if (!earlier) return alone;
  const lines = (plane: Plane): Plane => (byLines ? fieldOf(plane, 0) : plane);
  return Math.min(alone, measureMovingGrain(lines(earlier), lines(luma))?.sigma ?? alone);
}

/**
 * Measures a frame.
 * @param before the frame before it; undefined for the first.
 * @param byLines whether the lines of alternate fields must not be mixed.
 */
export function measureFrame(frame: number, picture: Picture, before: Picture | undefined, byLines: boolean): FrameMeasures {
  const [luma] = picture.planes;
  const round = (v: number): number => Math.round(v * 1000) / 1000;
  let light = 0,
    count = 0;
  for (let i = 0; i < luma.data.length; i += 5) {
    light += luma.data[i];
    count++;
  }
  const earlier = before?.planes[0];
  const now = histogram(luma),
    then = earlier && histogram(earlier);
  return {
    frame,
    combing: round(zigzag(luma, luma) / SIGMA_UNIT),
    grain: round(grainOf(luma, earlier, byLines)),
    light: round(light / count / SIGMA_UNIT),
    motion: earlier ? round(Math.max(fieldChange(earlier, luma, 0), fieldChange(earlier, luma, 1)) / SIGMA_UNIT) : 0,
    softness: measureBlur(luma) ?? null,
    blocks: round(measureBlocking(picture).ratio),
    jump: then ? round(now.reduce((sum, v, i) => sum + Math.abs(v - then[i]), 0) / 2) : 0,
  };
}

/** Frames each way that flicker is judged against. */
const AROUND = 4;
/** A new scene jumps by so much, and by so many times what its neighbours do. */
const JUMP = 0.22,
  TIMES = 3;

export interface Traces {
  frames: number[];
  values: Record<TraceId, (number | null)[]>;
  /** First frames of new scenes. */
  scenes: number[];
}

/** The traces of what was measured, in the order of time. */
export function tracesOf(measures: FrameMeasures[]): Traces {
  const scenes = measures.flatMap((m, n) => {
    const near = measures.slice(Math.max(0, n - AROUND), n + AROUND + 1).filter((o) => o !== m);
    return m.jump > JUMP && m.jump > TIMES * median(near.map((o) => o.jump)) ? [m.frame] : [];
  });
  const values: Traces['values'] = { combing: [], grain: [], flicker: [], motion: [], softness: [], blocks: [] };
  for (const [n, m] of measures.entries()) {
    // Light before and after a cut has nothing to do with flicker.
    const from = scenes.findLast((s) => s <= m.frame) ?? -Infinity,
      to = scenes.find((s) => s > m.frame) ?? Infinity;
    const near = measures.slice(Math.max(0, n - AROUND), n + AROUND + 1).filter((o) => o.frame >= from && o.frame < to);
    values.flicker.push(Math.round(1000 * Math.abs(m.light - median(near.map((o) => o.light)))) / 1000);
    for (const id of ['combing', 'grain', 'motion', 'softness', 'blocks'] as const) values[id].push(m[id]);
  }
  return { frames: measures.map((m) => m.frame), values, scenes };
}

/**
 * The frames where a trace stands highest, the worst first.
 * @param apart frames that lie at least between two of them.
 */
export function worstPlaces({ frames, values }: Traces, id: TraceId, count: number, apart: number): { frame: number; value: number }[] {
  const order = values[id].map((value, n) => ({ frame: frames[n], value: value ?? -Infinity })).sort((a, b) => b.value - a.value);
  const found: { frame: number; value: number }[] = [];
  for (const place of order) {
    if (found.length >= count || place.value === -Infinity) break;
    if (found.every((f) => Math.abs(f.frame - place.frame) >= apart)) found.push(place);
  }
  return found;
}

/** Frames of a clip that are measured: all of a short one, evenly spread ones of a long one. */
export function tracedFrames(frames: number, most: number): number[] {
  const stride = Math.ceil(frames / most);
  return Array.from({ length: Math.ceil(frames / stride) }, (_, n) => n * stride);
}
