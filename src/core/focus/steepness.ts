import { sampleBetween } from '../picture/between';
import type { Plane } from '../picture/picture';
import type { Motion } from './findMotion';

/** Places that are looked at, about. */
const PLACES = 60_000;
/** Which share of all steps lies below those that are compared: the steepest are edges. */
const EDGES = 0.995;
/** Places beside one another, across the motion, whose mean is taken, so that noise is no step. */
const ACROSS = [-2, -1, 0, 1, 2];

/**
 * How steep the edges of a picture are along a motion, against what the motion would leave of them: what was drawn out over so many pixels has no step that is
 * made in two. About 1.3 where it was moved so, 2 and more where it was not.
 */
export function steepnessAlong(plane: Plane, { length, angle }: Pick<Motion, 'length' | 'angle'>): number {
  const { width, height } = plane;
  const c = Math.cos((angle * Math.PI) / 180),
    s = Math.sin((angle * Math.PI) / 180);
  const border = Math.ceil(length / 2) + ACROSS.length;
  const level = (x: number, y: number): number => {
    let sum = 0;
    for (const n of ACROSS) sum += sampleBetween(plane, x - n * s, y + n * c);
    return sum / ACROSS.length;
  };
  const step = (x: number, y: number, over: number): number =>
    Math.abs(level(x + (c * over) / 2, y + (s * over) / 2) - level(x - (c * over) / 2, y - (s * over) / 2));
  const apart = Math.max(1, Math.floor(Math.sqrt((width * height) / PLACES)));
  const near: number[] = [],
    far: number[] = [];
  for (let y = border; y < height - border; y += apart)
    for (let x = border; x < width - border; x += apart) {
      near.push(step(x, y, NEAR));
      far.push(step(x, y, length));
    }
  return ((edgeOf(near) / (edgeOf(far) + 1)) * length) / NEAR;
}

/** Pixels over which an edge that was not drawn out rises. */
const NEAR = 2;

const edgeOf = (steps: number[]): number => Float64Array.from(steps).sort()[Math.floor(EDGES * steps.length)] ?? 0;
