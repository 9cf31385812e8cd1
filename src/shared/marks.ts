/**
 * Strokes: hand work that mends or marks places of a picture. Each stays a thing of its own, which can be moved, changed, switched off and
 * removed. Coordinates are pixels of the source.
 */
import { COLOUR } from './settings';

/** What a stroke is for. */
export type StrokeUse =
  /** A fault that is filled from what surrounds it, or from where `from` points. */
  | 'heal'
  /** A larger thing that is taken away: lines and planes go on, then texture. */
  | 'remove'
  /** A part that is gone, left as toned paper: nothing is made up. */
  | 'tone'
  /** Damage that was not found. */
  | 'damage'
  /** A stain that is to be lifted off what shows through it. */
  | 'stain'
  /** What looks like damage and is none. */
  | 'keep'
  /** What belongs to the subject and was not found. */
  | 'subject'
  /** What was taken for subject and is background. */
  | 'ground'
  /** What had the colour that the mark names. */
  | 'colour'
  /** What is tinted just where it is painted. */
  | 'tint'
  /** What is tinted as far as it hangs together, such as a sky. */
  | 'area'
  /** What has no colour. */
  | 'neutral'
  /** What colours do not cross. */
  | 'bar';

export interface MarkPoint {
  x: number;
  y: number;
}

export interface StrokeMark {
  /** Names it within its list. */
  id: string;
  use: StrokeUse;
  on: boolean;
  /** Its path; one point for a dab. */
  points: MarkPoint[];
  /** Diameter in pixels. */
  size: number;
  /** Share of the radius in which it fades out, 0 for a hard edge. */
  softness: number;
  /** Of what heals: how far away what is copied lies; found when left out. */
  from?: MarkPoint;
  /** Of what is filled: which of the answers is taken, from 0. */
  answer?: number;
  /** Of what had a colour or is tinted: which one, as settings hold colours. */
  colour?: string;
  /** Of what is carried along a film: the frame of the source that it was drawn on. */
  frame?: number;
}

/** Uses that add to what was found, or take away from it, rather than fill a place of their own. */
export const CORRECTIONS: readonly StrokeUse[] = ['damage', 'stain', 'keep', 'subject', 'ground'];
/** Of them, those that take away. */
export const TAKEN_AWAY: readonly StrokeUse[] = ['keep', 'ground'];

/** Uses that are drawn on one frame of a film and carried along its motion; all others stand still. */
export const CARRIED: readonly StrokeUse[] = ['colour', 'tint', 'area', 'neutral', 'bar'];

/** Uses that name a colour. */
export const COLOURED: readonly StrokeUse[] = ['colour', 'tint', 'area'];

/** Kind of such a list of marks. */
export const STROKE_MARKS = 'strokes';

/** Answers there are to choose from. */
export const ANSWERS = 3;

export const MARK_LIMITS = {
  /** Diameter in pixels of the source. */
  size: { min: 1, max: 2000 },
  points: 5000,
  /** Marks that are changed at once. */
  changed: 500,
} as const;

const USES: readonly string[] = [
  'heal',
  'remove',
  'tone',
  'damage',
  'stain',
  'keep',
  'subject',
  'ground',
  'colour',
  'tint',
  'area',
  'neutral',
  'bar',
] satisfies StrokeUse[];
/** Pixels beyond any source. */
const FAR = 1e6;

const isPoint = (p: unknown): p is MarkPoint => {
  const { x, y } = (p ?? {}) as Partial<MarkPoint>;
  return Number.isFinite(x) && Number.isFinite(y) && Math.abs(x as number) < FAR && Math.abs(y as number) < FAR;
};

/** A stroke from untrusted JSON, with nothing else in it. @returns what is wrong, in words, where it is none. */
export function readStroke(given: unknown): { mark: StrokeMark } | { problem: string } {
  const m = (given ?? {}) as Partial<StrokeMark>;
  const bad = (problem: string): { problem: string } => ({ problem });
  if (typeof m.id !== 'string' || !/^[\w-]{1,64}$/.test(m.id)) return bad('a mark needs an id of letters and digits');
  if (typeof m.use !== 'string' || !USES.includes(m.use)) return bad(`a mark is for one of ${USES.join(', ')}`);
  if (typeof m.on !== 'boolean') return bad('a mark is on or off');
  if (!Array.isArray(m.points) || m.points.length < 1 || m.points.length > MARK_LIMITS.points || !m.points.every(isPoint))
    return bad(`a mark has 1 to ${MARK_LIMITS.points} points in pixels`);
  const { min, max } = MARK_LIMITS.size;
  if (typeof m.size !== 'number' || !(m.size >= min && m.size <= max)) return bad(`a mark is ${min} to ${max} pixels wide`);
  if (typeof m.softness !== 'number' || !(m.softness >= 0 && m.softness <= 1)) return bad('softness lies between 0 and 1');
  if (m.from !== undefined && !isPoint(m.from)) return bad('where a mark copies from is a point in pixels');
  if (m.answer !== undefined && !(Number.isInteger(m.answer) && m.answer >= 0 && m.answer < ANSWERS))
    return bad(`there are ${ANSWERS} answers`);
  if (m.colour !== undefined && !(COLOURED.includes(m.use) && typeof m.colour === 'string' && m.colour !== '' && COLOUR.test(m.colour)))
    return bad('only what had a colour has one, and it is # and twelve hexadecimal digits');
  if (COLOURED.includes(m.use) && m.colour === undefined) return bad('what had a colour says which');
  if (m.frame !== undefined && !(CARRIED.includes(m.use) && Number.isInteger(m.frame) && m.frame >= 0))
    return bad('only what is carried along a film names a frame, counted from 0');
  return {
    mark: {
      ...{ id: m.id, use: m.use, on: m.on, size: m.size, softness: m.softness },
      points: m.points.map(({ x, y }) => ({ x, y })),
      ...(m.from && { from: { x: m.from.x, y: m.from.y } }),
      ...(m.answer !== undefined && { answer: m.answer }),
      ...(m.colour !== undefined && { colour: m.colour }),
      ...(m.frame !== undefined && { frame: m.frame }),
    },
  };
}
