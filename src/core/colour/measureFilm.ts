import { motionRaster, pairMotion, reducedFrame } from '../film/motion';
import type { Picture, StreamInfo } from '../picture/picture';
import { type FilmColours, mostly } from './film';
import { FRAME_LOOKS, guessOf, likelyColours } from './guess';
import { halvedGathered, thingsOf } from './things';
import { type OwnColours, tonesOf } from './tones';

/** Frames from one look of the network to the next. */
export const KEY_EVERY = 16;
/** Frames of a shot from one of which it is kept what its places are to the next. */
const THINGS_EVERY = 4 * KEY_EVERY;

export interface Measuring {
  /** Frame from which, and the one before which it is measured. */
  first: number;
  end: number;
  /** Is told what is found so far, and which share of all it is, 0 to 1. */
  progress(found: FilmColours, share: number): Promise<void>;
}

/**
 * How a film, or a piece of it, moves, where its shots begin, and the colours that it may have had at some of its frames. Frames are counted from
 * the first of the piece.
 *
 * @param frame gives whole frames of the stream.
 * @throws NetworkError when the network cannot be used, or what `frame` and `progress` throw.
 */
export async function measureFilm(
  { width, height }: StreamInfo,
  frame: (n: number) => Promise<Picture>,
  { first, end, progress }: Measuring,
): Promise<FilmColours> {
  let picture = await frame(first);
  let before = first > 0 ? reducedFrame(await frame(first - 1)) : undefined;
  const raster = motionRaster(reducedFrame(picture));
  const size = 2 * raster.columns * raster.rows;
  const shots: number[] = [];
  const [back, forth] = [0, 1].map(() => new Int8Array(size * (end - first)));
  const motion = { ...raster, width, height, frames: end - first, shots, back, forth };
  const keys: FilmColours['keys'] = [];
  const owns: OwnColours[] = [];
  const found = (): FilmColours => ({ motion, keys, own: mostly(owns) });
  for (let n = 0; n < end - first; n++) {
    if (n > 0) picture = await frame(first + n);
    const now = reducedFrame(picture);
    const pair = before && pairMotion(before, now);
    before = now;
    back.set(pair?.back ?? [], n * size);
    forth.set(pair?.forth ?? [], n * size);
    const cut = !pair || pair.cut;
    if (cut) shots.push(n);
    if (cut || n % KEY_EVERY === 0) {
      const tones = tonesOf(picture);
      owns.push(tones.own);
      const likely = await likelyColours(tones, FRAME_LOOKS);
      // What places are is compared with other pictures, whose faces are not looked for.
      const told = cut || n % THINGS_EVERY === 0;
      const things = told && { things: thingsOf(tones, halvedGathered(likely)) };
      keys.push({ frame: n, guess: await guessOf(likely, tones), ...things });
    }
    await progress(found(), (n + 1) / (end - first));
  }
  return found();
}
