import { LRUCache } from 'lru-cache';
import { carryPlaces, type Places } from '../film/carry';
import { type FilmMotion, shotOf } from '../film/motion';
import type { LaidStroke } from '../marks/strokes';
import { tapsBetween } from '../picture/between';
import { pointAt, type Projective } from '../../shared/maps/place';
import type { StrokeMark, StrokeUse } from '../../shared/marks';
import { laidStrokes } from '../marks/strokes';
import { type Guess, LEANINGS } from './guess';
import { type Giver, givenTo } from './reference';
import type { Things } from './things';
import type { OwnColours } from './tones';

/** What the network thinks of a frame. */
export interface FilmKey {
  frame: number;
  guess: Guess;
  /** What the frame's places are; told of the first of each shot and of some others. */
  things?: Things;
}

/** What the network thinks of a film at some of its frames, and how the film moves between them. */
export interface FilmColours {
  motion: FilmMotion;
  /** Rising; the first of each shot is one. */
  keys: FilmKey[];
  own: OwnColours;
}

/** Codes of doubt added where nothing is carried surely. */
const LOST = 30;
/** What a key counts where the place is lost. */
const LEAST = 1e-3;

/** A node's frame over the film it comes from. */
export interface View {
  width: number;
  height: number;
  /** Where its pixels lie in the source. */
  place: Projective;
  /** Frame of the source that it was seen in. */
  seen: number;
}

/** Guesses that are kept of each film: a frame goes into those beside it. */
const KEPT = 16;
const known = new WeakMap<FilmColours, LRUCache<string, Guess>>();

function remembered(film: FilmColours, name: string, make: () => Guess): Guess {
  const kept = known.get(film) ?? new LRUCache({ max: KEPT });
  known.set(film, kept);
  const guess = kept.get(name) ?? make();
  kept.set(name, guess);
  return guess;
}

/** What a film's colours may be at a frame of a node, carried from the looks before and after it along motion. */
export const guessAlong = (film: FilmColours, view: View): Guess =>
  remembered(film, JSON.stringify(view), () => carriedGuess(film.motion, keysAround(film.motion, film.keys, view.seen), view));

/** The colours that another picture gives to a film, at a frame of a node. @param name names the picture. */
export function referredAlong(film: FilmColours, giver: Giver, name: string, view: View): Guess {
  return remembered(film, JSON.stringify([name, view]), () => {
    const around = keysAround(
      film.motion,
      film.keys.filter(({ things }) => things),
      view.seen,
    );
    const given = around.map(({ frame, guess, things }) => ({
      frame,
      guess: remembered(film, JSON.stringify([name, frame]), () => (things ? givenTo(things, giver) : guess)),
    }));
    return carriedGuess(film.motion, given, view);
  });
}

/** Of a shot's keys the last up to a frame and the first after it, one of which may be missing. */
function keysAround(motion: FilmMotion, keys: readonly FilmKey[], seen: number): FilmKey[] {
  const { first, last } = shotOf(motion, seen);
  const own = keys.filter((key) => key.frame >= first && key.frame <= last);
  const before = own.findLast((key) => key.frame <= seen) ?? own[0];
  const after = before.frame === seen ? undefined : own.find((key) => key.frame > seen && key !== before);
  return [before, ...(after ? [after] : [])];
}

function carriedGuess(motion: FilmMotion, around: readonly FilmKey[], view: View): Guess {
  const { seen } = view;
  const [before, after] = around.length > 1 ? around : [around[0], undefined];
  const { width, height } = before.guess;
  const size = width * height;
  const places = placesOf(view, width, height);
  const sides = [before, ...(after ? [after] : [])].map((key) => {
    const share = after ? 1 - Math.abs(seen - key.frame) / (after.frame - before.frame) : 1;
    const carried = carryPlaces(motion, seen, key.frame, places) ?? { ...places, sure: new Float32Array(size) };
    return { guess: key.guess, carried, share };
  });
  const made: Guess = {
    ...{ width, height, doubt: new Uint8Array(size) },
    answers: { likely: new Int8Array(2 * size), warm: new Int8Array(2 * size), cool: new Int8Array(2 * size) },
  };
  const reads = sides.map(({ carried }) => readsAt(carried, motion, width, height));
  const weights = new Float32Array(sides.length);
  for (let i = 0; i < size; i++) {
    let all = 0;
    sides.forEach(({ carried, share }, n) => (all += weights[n] = share * (LEAST + carried.sure[i])));
    const mixed = (values: (guess: Guess) => ArrayLike<number>, offset: number): number => {
      let sum = 0;
      for (let n = 0; n < sides.length; n++) sum += (weights[n] / all) * reads[n](values(sides[n].guess), offset, i);
      return Math.round(sum);
    };
    made.doubt[i] = Math.min(255, mixed((guess) => guess.doubt, 0) + LOST * (1 - Math.min(1, all)));
    for (const leaning of LEANINGS)
      for (const offset of [0, size]) made.answers[leaning][offset + i] = mixed((guess) => guess.answers[leaning], offset);
  }
  return made;
}

/** Reads rasters over the film's frames at places of one of them. */
function readsAt({ x, y }: Places, { width: w, height: h }: FilmMotion, width: number, height: number) {
  return (values: ArrayLike<number>, offset: number, i: number): number => {
    const [left, right, a] = tapsBetween(x[i] / w, width),
      [top, bottom, b] = tapsBetween(y[i] / h, height);
    return (
      (values[offset + top * width + left] * (1 - a) + values[offset + top * width + right] * a) * (1 - b) +
      (values[offset + bottom * width + left] * (1 - a) + values[offset + bottom * width + right] * a) * b
    );
  };
}

/** The middles of a raster's places over a view, in pixels of the source. */
export function placesOf(view: View, width: number, height: number): Places {
  const x = new Float32Array(width * height),
    y = new Float32Array(width * height);
  const across = view.width / width,
    down = view.height / height;
  for (let i = 0; i < x.length; i++) {
    const at = pointAt(view.place, ((i % width) + 0.5) * across, (Math.floor(i / width) + 0.5) * down);
    x[i] = at.x;
    y[i] = at.y;
  }
  return { x, y };
}

/** Pieces of a film put together in their order; each counts its frames from its own first. */
export function joinFilmColours(pieces: readonly FilmColours[]): FilmColours {
  const [one] = pieces;
  const starts = pieces.map((_, n) => pieces.slice(0, n).reduce((sum, { motion }) => sum + motion.frames, 0));
  const motion: FilmMotion = {
    ...one.motion,
    frames: pieces.reduce((sum, piece) => sum + piece.motion.frames, 0),
    shots: pieces.flatMap((piece, n) => piece.motion.shots.map((frame) => starts[n] + frame)),
    back: joined(pieces.map((piece) => piece.motion.back)),
    forth: joined(pieces.map((piece) => piece.motion.forth)),
  };
  return {
    motion,
    keys: pieces.flatMap((piece, n) => piece.keys.map((key) => ({ ...key, frame: starts[n] + key.frame }))),
    own: mostly(pieces.map(({ own }) => own)),
  };
}

function joined(parts: readonly Int8Array[]): Int8Array {
  const out = new Int8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** What most looks say of a film's own colours; of as many, the one with more of them. */
export function mostly(owns: readonly OwnColours[]): OwnColours {
  const order: OwnColours[] = ['coloured', 'tinted', 'toned', 'none'];
  const times = (own: OwnColours): number => owns.filter((o) => o === own).length;
  return order.reduce((best, own) => (times(own) > times(best) ? own : best));
}

/** Marks of one frame where they lie in another, and what they count there. */
export interface CarriedStrokes {
  strokes: LaidStroke[];
  /** 0 to 1. */
  weight: number;
}

/** Under this a mark's place is lost, and it says nothing. */
const SURE = 0.3;

/**
 * Marks of a shot's frames, carried to one of its frames: of the marked frames the nearest before and the nearest after have a say, each the more the
 * nearer it is.
 */
export function strokesAlong(
  motion: FilmMotion,
  marks: readonly unknown[],
  uses: readonly StrokeUse[],
  { seen: frame, place }: Pick<View, 'seen' | 'place'>,
): CarriedStrokes[] {
  const { first, last } = shotOf(motion, frame);
  const on = (marks as readonly StrokeMark[]).filter((m) => m.on && uses.includes(m.use));
  const frames = [...new Set(on.map((m) => m.frame ?? 0))].filter((n) => n >= first && n <= last).sort((a, b) => a - b);
  const before = frames.findLast((n) => n <= frame),
    after = before === frame ? undefined : frames.find((n) => n > frame);
  return [before, after]
    .filter((n) => n !== undefined)
    .map((n) => {
      const weight = before !== undefined && after !== undefined ? 1 - Math.abs(frame - n) / (after - before) : 1;
      const carried = on.filter((m) => (m.frame ?? 0) === n).flatMap((m) => carriedMark(motion, m, n, frame));
      return { strokes: laidStrokes(carried, uses, place), weight };
    });
}

function carriedMark(motion: FilmMotion, mark: StrokeMark, from: number, to: number): StrokeMark[] {
  if (from === to) return [mark];
  const at = (axis: 'x' | 'y'): Float32Array => Float32Array.from(mark.points, (point) => point[axis]);
  const carried = carryPlaces(motion, from, to, { x: at('x'), y: at('y') });
  if (!carried) return [];
  const points = mark.points.map((_, i) => ({ x: carried.x[i], y: carried.y[i] })).filter((_, i) => carried.sure[i] > SURE);
  return points.length ? [{ ...mark, points }] : [];
}
