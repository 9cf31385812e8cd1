import { colourParts } from '../../shared/settings';
import type { StrokeUse } from '../../shared/marks';
import { strokeCover, type LaidStroke } from '../marks/strokes';
import { tapsBetween } from '../picture/between';
import { fromRgbMatrix } from '../picture/matrix';
import { areaOf } from './areas';
import type { Leaning } from './classes';
import type { Guess } from './guess';
import { type Links, linksOf } from './links';
import { smooth, takenBack } from './quiet';
import { CHANNELS, type Solving, spread } from './spread';
import type { Tones } from './tones';

/**
 * Colours over all of a still, on the raster of its tones: chroma by lightness, as a dye or paint has in light and in shade. Chroma in codes of 255 is
 * that times (lightness + `SHADE`), lightness from 0 to 1.
 */
export interface Colours {
  width: number;
  height: number;
  cb: Float32Array;
  cr: Float32Array;
}

/** What chroma has of its own in black, so that shadows are not without colour. */
export const SHADE = 0.5;

/** How strongly a hint holds what lies under it. */
const HELD = 8;
/**
 * How many times further than their reach hints are spread, and the power that takes their influence back to it: it falls by the same factor over
 * each distance. What little passes a weak edge would outdo a hint far off, whose own influence has gone.
 */
const FURTHER = 4;
/** Where a hint's influence lies between these, its colour passes into what was guessed. */
const PASSES = { from: 0.03, to: 0.15 };
/** What `PASSES.from` is before its power is taken: most places lie under it. */
const PASSES_SPREAD = PASSES.from ** (1 / FURTHER);
/** Places over which a guess is spread to the picture's edges, and how much less one in doubt counts. */
const GUESS_REACH = 14,
  IN_DOUBT = 30;
/** A guess is off by more than this itself. */
const GUESSED: Solving = { off: 0.012, fromOwn: true };
/** Least width of a stroke on the raster. */
const THINNEST = 1.6;

/** Uses of strokes that give a place its colour. */
const COLOURING: readonly StrokeUse[] = ['colour', 'neutral'];

/** Uses of strokes that tint. */
const TINTING: readonly StrokeUse[] = ['tint', 'area'];

/** What is laid where nothing is marked, and along what marks spread. */
export interface Ground {
  links: Links;
  colours: Colours;
}

export interface GuessTaken {
  guess: Guess;
  leaning: Leaning;
  /** Strength of the guess, 1 for as it is. */
  vividness: number;
  /** How far a guess in doubt is taken back, 0 to 1. */
  quiet: number;
}

/** @param strokes in places of the raster; those that bar count. @param taken no colours where left out. */
export function groundOf(tones: Tones, strokes: readonly LaidStroke[], taken?: GuessTaken): Ground {
  const { luma, width, height } = tones;
  const barred = new Uint8Array(width * height);
  for (const stroke of strokes) if (stroke.mark.use === 'bar') cover(stroke, width, height, (i) => (barred[i] = 1));
  const links = linksOf(luma, width, height, barred);
  const empty = (): Float32Array => new Float32Array(width * height);
  return { links, colours: taken ? guessed(tones, links, taken) : { width, height, cb: empty(), cr: empty() } };
}

/** Marks that were drawn together, and what they count against those of another frame of a film. */
export interface Hints {
  /** In places of the raster; those that colour count. */
  strokes: readonly LaidStroke[];
  /** 0 to 1. */
  weight: number;
}

/**
 * Colours that are marked, spread over their ground.
 *
 * @param marked of which those of one frame lie on one another, and those of two frames are mixed.
 * @param reach how far a hint reaches where nothing stops it, in parts of the longer side.
 */
export function hinted({ links, colours: ground }: Ground, marked: readonly Hints[], reach: number): Colours {
  const groups = marked.map(({ strokes, weight }) => ({ hints: strokes.filter(({ mark }) => COLOURING.includes(mark.use)), weight }));
  if (groups.every(({ hints }) => hints.length === 0)) return ground;
  const { width, height } = ground;
  const size = width * height;
  const pull = new Float32Array(size).fill(1 / (FURTHER * reach * Math.max(width, height)) ** 2),
    wanted = new Float32Array(CHANNELS * size);
  for (const { hints, weight } of groups) {
    const held = HELD * weight;
    // The later of two that lie on one another holds.
    const covered = new Map<number, [number, number]>();
    for (const stroke of hints) {
      const chroma: [number, number] = stroke.mark.use === 'colour' && stroke.mark.colour ? byLightness(stroke.mark.colour) : [0, 0];
      cover(stroke, width, height, (i) => covered.set(i, chroma));
    }
    for (const [i, [cb, cr]] of covered) {
      pull[i] += held;
      wanted[CHANNELS * i] += held * cb;
      wanted[CHANNELS * i + 1] += held * cr;
      wanted[CHANNELS * i + 2] += held;
    }
  }
  const found = spread(links, pull, wanted);
  const colours = { width, height, cb: ground.cb.slice(), cr: ground.cr.slice() };
  for (let i = 0; i < size; i++) {
    const spreadTo = found[CHANNELS * i + 2];
    if (!(spreadTo > PASSES_SPREAD)) continue;
    const weight = smooth((spreadTo ** FURTHER - PASSES.from) / (PASSES.to - PASSES.from));
    colours.cb[i] += weight * (found[CHANNELS * i] / spreadTo - colours.cb[i]);
    colours.cr[i] += weight * (found[CHANNELS * i + 1] / spreadTo - colours.cr[i]);
  }
  return colours;
}

/**
 * Colours with what is tinted laid over them, in the order of the marks: as far as each stroke covers a place, or the area that it lies in.
 * @param marked in places of the raster.
 */
export function tinted(colours: Colours, marked: readonly Hints[], links: Links): Colours {
  const { width, height } = colours;
  const made = { width, height, cb: colours.cb.slice(), cr: colours.cr.slice() };
  for (const { strokes, weight } of marked)
    for (const stroke of strokes) {
      const { use, colour } = stroke.mark;
      if (!TINTING.includes(use) || !colour) continue;
      const [cb, cr] = byLightness(colour);
      const tint = (i: number, share: number): void => {
        made.cb[i] += weight * share * (cb - made.cb[i]);
        made.cr[i] += weight * share * (cr - made.cr[i]);
      };
      if (use === 'tint') covering(stroke, width, height, tint);
      else areaOf(links, placesUnder(stroke, width, height)).forEach((share, i) => share > 0 && tint(i, share));
    }
  return made;
}

function placesUnder(stroke: LaidStroke, width: number, height: number): number[] {
  const places: number[] = [];
  cover(stroke, width, height, (i) => places.push(i));
  return places;
}

/** Chroma of a colour by its lightness. */
function byLightness(colour: string): [number, number] {
  const parts = colourParts(colour).map((v) => v / 65535);
  const [y, cb, cr] = fromRgbMatrix('bt601').map((row) => row.reduce((sum, weight, c) => sum + weight * parts[c], 0));
  return [(255 * cb) / (y + SHADE), (255 * cr) / (y + SHADE)];
}

/** What the network guessed, laid along the edges of the picture. */
function guessed({ luma, width, height }: Tones, links: Links, { guess, leaning, vividness, quiet }: GuessTaken): Colours {
  const size = width * height;
  const coarse = guess.width * guess.height;
  const answer = guess.answers[leaning];
  const pull = new Float32Array(size),
    wanted = new Float32Array(CHANNELS * size);
  const over: Coarser = { width: guess.width, columns: tapsAlong(width, guess.width), rows: tapsAlong(height, guess.height) };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const doubt = between(guess.doubt, 0, over, x, y);
      const weight = 1 / GUESS_REACH ** 2 / (1 + (doubt / IN_DOUBT) ** 2);
      const light = luma[i] / 255 + SHADE;
      const strength = vividness * (1 - quiet * takenBack(doubt));
      pull[i] = weight;
      wanted[CHANNELS * i] = (weight * strength * between(answer, 0, over, x, y)) / light;
      wanted[CHANNELS * i + 1] = (weight * strength * between(answer, coarse, over, x, y)) / light;
    }
  const found = spread(links, pull, wanted, GUESSED);
  const cb = new Float32Array(size),
    cr = new Float32Array(size);
  for (let i = 0; i < size; i++) {
    cb[i] = found[CHANNELS * i];
    cr[i] = found[CHANNELS * i + 1];
  }
  return { width, height, cb, cr };
}

/** Of each place of a row or column the samples of a coarser one before and after it, and how far beyond the first it lies. */
interface Taps {
  before: Int32Array;
  after: Int32Array;
  beyond: Float64Array;
}

/** How a finer raster lies over a coarser one of so many columns. */
interface Coarser {
  width: number;
  columns: Taps;
  rows: Taps;
}

function tapsAlong(size: number, coarser: number): Taps {
  const taps = { before: new Int32Array(size), after: new Int32Array(size), beyond: new Float64Array(size) };
  for (let i = 0; i < size; i++) [taps.before[i], taps.after[i], taps.beyond[i]] = tapsBetween((i + 0.5) / size, coarser);
  return taps;
}

/** A coarse raster between its samples, at column x and row y of a finer one. @param offset of the raster among the values. */
function between(values: ArrayLike<number>, offset: number, { width, columns, rows }: Coarser, x: number, y: number): number {
  const left = columns.before[x],
    right = columns.after[x],
    a = columns.beyond[x],
    b = rows.beyond[y];
  const top = offset + rows.before[y] * width,
    bottom = offset + rows.after[y] * width;
  return (
    (values[top + left] * (1 - a) + values[top + right] * a) * (1 - b) + (values[bottom + left] * (1 - a) + values[bottom + right] * a) * b
  );
}

/** A stroke of a picture in places of its raster. @param scale places a pixel. */
export function onRaster(stroke: LaidStroke, scale: number): LaidStroke {
  const { box } = stroke;
  return {
    ...stroke,
    points: stroke.points.map(({ x, y }) => ({ x: x * scale, y: y * scale })),
    size: Math.max(THINNEST, stroke.size * scale),
    box: {
      x: Math.floor(box.x * scale) - 2,
      y: Math.floor(box.y * scale) - 2,
      width: Math.ceil(box.width * scale) + 4,
      height: Math.ceil(box.height * scale) + 4,
    },
  };
}

/** Every place that a stroke covers half of or more. */
const cover = (stroke: LaidStroke, width: number, height: number, work: (i: number) => void): void =>
  covering(stroke, width, height, (i, share) => share >= 0.5 && work(i));

/** Every place that a stroke covers, and how far, 0 to 1. */
function covering(stroke: LaidStroke, width: number, height: number, work: (i: number, share: number) => void): void {
  const x = Math.max(0, stroke.box.x),
    y = Math.max(0, stroke.box.y);
  const region = {
    ...{ x, y },
    width: Math.min(width, stroke.box.x + stroke.box.width) - x,
    height: Math.min(height, stroke.box.y + stroke.box.height) - y,
  };
  if (region.width <= 0 || region.height <= 0) return;
  strokeCover(stroke, region).forEach((v, n) => {
    if (v > 0) work((y + Math.floor(n / region.width)) * width + x + (n % region.width), v);
  });
}
