import { describe, expect, it } from 'vitest';
import { SAME_PLACE, scaling } from '../../shared/maps/place';
import type { StrokeMark } from '../../shared/marks';
import type { FilmMotion } from '../film/motion';
import type { Colours } from './colours';
import { type FilmColours, guessAlong, joinFilmColours, mostly, strokesAlong, type View } from './film';
import type { Guess } from './guess';
import { steadied } from './steady';
import type { Tones } from './tones';

const WIDTH = 320,
  HEIGHT = 240,
  FRAMES = 12;

/** A film whose picture goes `dx` pixels to the right in every frame. */
function going(dx: number, shots = [0], frames = FRAMES): FilmMotion {
  const raster = { columns: 10, rows: 8, unit: 0.5, span: 32 };
  const size = 2 * raster.columns * raster.rows;
  const vectors = (to: number): Int8Array =>
    Int8Array.from({ length: size * frames }, (_, i) => (i % 2 === 0 && !shots.includes(Math.floor(i / size)) ? to / raster.unit : 0));
  return { ...raster, width: WIDTH, height: HEIGHT, frames, shots, back: vectors(-dx), forth: vectors(dx) };
}

/** Red at the left of a place, green at the right of it. */
function guess(at: number): Guess {
  const [width, height] = [32, 24];
  const size = width * height;
  const likely = Int8Array.from({ length: 2 * size }, (_, i) => (i < size === ((i % width) + 0.5) * 10 < at ? -40 : 40));
  return { width, height, answers: { likely, warm: likely, cool: likely }, doubt: new Uint8Array(size).fill(10) };
}

const view = (seen: number, more: Partial<View> = {}): View => ({ width: WIDTH, height: HEIGHT, place: SAME_PLACE, seen, ...more });

/** Where red turns to green in the middle row. */
const turnsAt = ({ width, height, answers: { likely } }: Guess): number =>
  10 * likely.subarray((height / 2) * width, (height / 2 + 1) * width).findIndex((v) => v > 0);

describe('colours of a film', () => {
  const film: FilmColours = {
    motion: going(6),
    keys: [
      { frame: 0, guess: guess(120) },
      { frame: 8, guess: guess(168) },
    ],
    own: 'none',
  };

  it('go along with what they lie on, between two looks and after the last', () => {
    for (const n of [0, 3, 5, 8, 11]) expect(Math.abs(turnsAt(guessAlong(film, view(n))) - 120 - 6 * n)).toBeLessThanOrEqual(10);
  });

  it('lie where a node shows the film: half of it, from the middle on', () => {
    const cropped = view(0, { width: 160, place: [1, 0, 80, 0, 1, 0, 0, 0, 1] });
    const made = guessAlong(film, cropped);
    expect(Math.abs(turnsAt(made) / 2 - 40)).toBeLessThanOrEqual(10);
  });

  it('come from their own shot alone, and are in doubt where they are lost', () => {
    const cut = { ...film, motion: going(6, [0, 8]), keys: [film.keys[0], { frame: 8, guess: guess(60) }] };
    expect(Math.abs(turnsAt(guessAlong(cut, view(7))) - 162)).toBeLessThanOrEqual(10);
    const torn = { ...film, motion: { ...going(6), back: going(-20).back } };
    expect(guessAlong(torn, view(4)).doubt[100]).toBeGreaterThan(30);
  });

  it('are put together from pieces as from one', () => {
    const piece = (at: number): FilmColours => ({
      motion: going(6, at ? [] : [0], 6),
      keys: [{ frame: 0, guess: guess(120 + at) }],
      own: 'toned',
    });
    const whole = joinFilmColours([piece(0), piece(36)]);
    expect(whole).toMatchObject({ own: 'toned', motion: { frames: 12, shots: [0] }, keys: [{ frame: 0 }, { frame: 6 }] });
    expect(whole.motion.back).toHaveLength(2 * 6 * 2 * 80);
    expect(mostly(['none', 'coloured', 'coloured'])).toBe('coloured');
    expect(mostly(['none', 'tinted'])).toBe('tinted');
  });
});

describe('marks of a film', () => {
  const mark = (frame: number, x: number, y = 120): StrokeMark => ({
    ...{ id: `m${frame}`, use: 'colour', on: true, size: 10, softness: 0, colour: '#b0b040404040', frame },
    points: [{ x, y }],
  });

  it('are carried both ways through their shot, and no further', () => {
    const motion = going(6, [0, 9]);
    const at = (seen: number): number | undefined =>
      strokesAlong(motion, [mark(4, 100)], ['colour'], view(seen))[0]?.strokes[0]?.points[0].x;
    expect([0, 4, 8].map(at)).toEqual([76, 100, 124]);
    expect(at(9)).toBeUndefined();
  });

  it('of the nearest marked frames count by how near they are', () => {
    const marks = [mark(0, 50), mark(4, 90), mark(8, 130)];
    const weights = (seen: number): number[] => strokesAlong(going(6), marks, ['colour'], view(seen)).map(({ weight }) => weight);
    expect(weights(4)).toEqual([1]);
    expect(weights(5)).toEqual([0.75, 0.25]);
    expect(weights(11)).toEqual([1]);
  });

  it('lie in the pixels of the node, and go when they leave the frame', () => {
    const [{ strokes }] = strokesAlong(going(6), [mark(0, 100)], ['colour'], view(2, { place: scaling(2, 2) }));
    expect(strokes[0].points).toEqual([{ x: 56, y: 60 }]);
    expect(strokesAlong(going(60), [mark(0, 200)], ['colour'], view(3))[0].strokes).toEqual([]);
  });
});

describe('a frame among those beside it', () => {
  const tones = (dx: number): Tones => ({
    ...{ width: 80, height: 60, own: 'none', kept: new Uint8Array(4800) },
    luma: Uint8Array.from({ length: 4800 }, (_, i) => 128 + 60 * Math.sin(((i % 80) - dx) / 6)),
  });
  /** Colours that go along, and are off by what each frame does to them by itself. */
  const colours = (dx: number, off: number): Colours => ({
    ...{ width: 80, height: 60 },
    cb: Float32Array.from({ length: 4800 }, (_, i) => 20 * Math.sin(((i % 80) - dx) / 6) + off),
    cr: new Float32Array(4800),
  });

  it('has their mean along motion', () => {
    const frame = (n: number, off: number) => ({ tones: tones(2 * n), colours: colours(2 * n, off), view: view(n) });
    const made = steadied(frame(1, 3), [frame(0, -3), frame(2, 0)], going(8));
    const wanted = colours(2, 0).cb;
    for (let x = 6; x < 74; x++) expect(made.cb[30 * 80 + x]).toBeCloseTo(wanted[30 * 80 + x], 0);
  });

  it('keeps its own where the others are of another shot', () => {
    const own = { tones: tones(0), colours: colours(0, 5), view: view(6) };
    expect(steadied(own, [{ ...own, colours: colours(0, -9), view: view(5) }], going(0, [0, 6])).cb).toEqual(own.colours.cb);
  });
});
