import { Cancelled, type FilmColours, joinFilmColours, KEY_EVERY, measureFilm, type OwnColours, wholeRegion } from '../../core';
import type { Analysis } from './analysis';
import { bytesOf, bytesText, signedBytesOf } from './bytes';
import { framesOf } from './pieces';
import { decodeGuess, encodeGuess, type KeptGuess } from './colours';

/** Frames of one piece, about. */
const PIECE_FRAMES = 6 * KEY_EVERY;

/** How a film moves, its shots, and the colours that it may have had at some of its frames. */
export const filmColoursAnalysis: Analysis<FilmColours> = {
  id: 'film-colours',
  version: 4,
  name: 'colours along the film',
  needs: [],
  pieces: {
    count: ({ frames }) => Math.ceil(frames / PIECE_FRAMES),
    join: (values) => joinFilmColours(values.filter((value) => value !== undefined)),
  },
  measure({ node }, { piece = { index: 0, count: 1 }, progress, cancelled }) {
    const [first, end] = framesOf(piece, node.stream.frames);
    return measureFilm(node.stream, (n) => node.frame(n, wholeRegion(node.stream)), {
      ...{ first, end },
      progress(found, share) {
        if (cancelled()) throw new Cancelled();
        return progress(found, share);
      },
    });
  },
  encode: ({ motion: { back, forth, ...motion }, keys, own }): KeptFilm => ({
    motion: { ...motion, back: bytesText(back), forth: bytesText(forth) },
    keys: keys.map(({ frame, guess, things }) => ({
      frame,
      guess: encodeGuess(guess),
      ...(things && { things: { ...things, figures: bytesText(things.figures) } }),
    })),
    own,
  }),
  decode(kept) {
    const { motion, keys, own } = kept as KeptFilm;
    return {
      motion: { ...motion, back: signedBytesOf(motion.back), forth: signedBytesOf(motion.forth) },
      keys: keys.map(({ frame, guess, things }) => ({
        frame,
        guess: decodeGuess(guess),
        ...(things && { things: { ...things, figures: bytesOf(things.figures) } }),
      })),
      own,
    };
  },
};

interface KeptFilm {
  motion: Omit<FilmColours['motion'], 'back' | 'forth'> & { back: string; forth: string };
  keys: { frame: number; guess: KeptGuess; things?: { width: number; height: number; figures: string } }[];
  own: OwnColours;
}
