import { describe, expect, it } from 'vitest';
import type { StrokeMark } from '../../shared/marks';
import type { FilmMotion } from '../film/motion';
import { alikePlaces } from './alike';
import type { FilmColours, FilmKey } from './film';
import type { Guess } from './guess';
import { THING_FIGURES, type Things } from './things';

const WIDTH = 320,
  HEIGHT = 180,
  SHOT = 10;

const guess: Guess = {
  ...{ width: 1, height: 1, doubt: new Uint8Array(1) },
  answers: { likely: new Int8Array(2), warm: new Int8Array(2), cool: new Int8Array(2) },
};

/** Places of which one, where it is given, is a coat and all others are a field; what differs a little is the light. */
function things(coat: [number, number] | undefined, light = 0): Things {
  const [width, height] = [32, 18];
  const figures = new Uint8Array(width * height * THING_FIGURES);
  for (let i = 0; i < width * height; i++) {
    const isCoat = i % width === coat?.[0] && Math.floor(i / width) === coat[1];
    figures[i * THING_FIGURES + (isCoat ? 3 : 20)] = 230;
    figures[i * THING_FIGURES + THING_FIGURES - 4] = (isCoat ? 60 : 120) + light;
  }
  return { width, height, figures };
}

function film(shots: Things[]): FilmColours {
  const raster = { columns: 10, rows: 6, unit: 0.5, span: 32 };
  const frames = SHOT * shots.length;
  const vectors = new Int8Array(2 * raster.columns * raster.rows * frames);
  const motion: FilmMotion = {
    ...{ ...raster, width: WIDTH, height: HEIGHT, frames, back: vectors, forth: vectors },
    shots: shots.map((_, n) => n * SHOT),
  };
  return { motion, keys: shots.map((one, n): FilmKey => ({ frame: n * SHOT, guess, things: one })), own: 'none' };
}

const mark = (frame: number, x: number, y: number): StrokeMark => ({
  ...{ id: 'm', use: 'colour', on: true, size: 10, softness: 0, colour: '#b0b040404040', frame },
  points: [{ x, y }],
});

describe('what is marked', () => {
  const seen = film([things([5, 9]), things([20, 4], 10), things(undefined), things([12, 12])]);

  it('is found in the shots that show it, the likest first, and nowhere else', () => {
    const found = alikePlaces(seen, mark(3, 55, 95));
    expect(found.map(({ frame }) => frame)).toEqual([30, 10]);
    expect(found[0]).toMatchObject({ x: 125, y: 125, alike: 1 });
    expect(found[1]).toMatchObject({ x: 205, y: 45 });
    expect(found[1].alike).toBeLessThan(1);
  });

  it('is told nowhere where it is everywhere', () => {
    expect(alikePlaces(seen, mark(3, 200, 20))).toEqual([]);
  });
});
