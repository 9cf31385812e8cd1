import type { CurvePoint } from '../../shared/curve';

/**
 * What is done to the tones of a picture. A faded print is the print it was through three layers of dye that each kept a share of their
 * density, over paper that has gained a density of its own (Gschwind and Frey, 1994): in stops, a line for each of red, green and blue.
 */

export type PerColour = [red: number, green: number, blue: number];

/** A line and a bend in stops for one of red, green and blue: what it reads, divided by what is left of its dye, after what the paper took. */
export interface Layer {
  /** Density of the dye against what it was; less than 0 turns a negative. */
  left: number;
  /** Stops that are added before. */
  base: number;
  /** Stops that are added after. */
  shift: number;
  /** Stops added half-way between white and black, none at either. */
  bend: number;
}

/** Light that varies over the frame, in stops that are added: across from left to right, down from top to bottom, and towards the corners. */
export interface UnevenLight {
  across: number;
  down: number;
  corners: number;
}

export interface Look {
  layers: [Layer, Layer, Layer];
  uneven: UnevenLight;
  /** Stops that dark and light parts are moved by, each by itself. */
  darks: number;
  lights: number;
  /** Contrast of large and of small forms; 1 as it is. */
  large: number;
  small: number;
  /** Strength of colours, and of pale ones more than strong ones; 1 as it is. */
  strength: number;
  pale: number;
  /** Points of a curve over codes 0 to 1, from left to right; a straight line where there are none. */
  curve: readonly CurvePoint[];
}

/** Where the white and the black of a print in good state lie, in stops: paper reflects about nine tenths, and its black a hundredth. */
export const WHITE_STOPS = -0.15,
  BLACK_STOPS = -6.4;

export const PLAIN_LAYER: Layer = { left: 1, base: 0, shift: 0, bend: 0 };

export const layerStops = ({ left, base, shift, bend }: Layer, stops: number): number => {
  const s = (stops + base) / left;
  const way = Math.min(1, Math.max(0, (s - WHITE_STOPS) / (BLACK_STOPS - WHITE_STOPS)));
  return s + shift + 4 * bend * way * (1 - way);
};

const isPlain = (layer: Layer): boolean => layer.left === 1 && layer.base === 0 && layer.shift === 0 && layer.bend === 0;

/** Whether a look changes anything by place or by what is round a pixel. */
export const isLocal = ({ uneven, ...look }: Look): boolean =>
  uneven.across !== 0 || uneven.down !== 0 || uneven.corners !== 0 || readsAround(look);

/** Whether a look depends on what is round a pixel. */
export const readsAround = ({ darks, lights, large, small }: Pick<Look, 'darks' | 'lights' | 'large' | 'small'>): boolean =>
  darks !== 0 || lights !== 0 || large !== 1 || small !== 1;

/** Whether a look leaves every picture as it is. */
export const isNothing = (look: Look): boolean =>
  look.layers.every(isPlain) && !isLocal(look) && look.strength === 1 && look.pale === 1 && isStraight(look.curve);

export const isStraight = (curve: readonly CurvePoint[]): boolean => curve.every(({ x, y }) => x === y);

/** Stops that uneven light takes or gives at a place of the frame, -1 to 1 from its left and its top. */
export const unevenAt = ({ across, down, corners }: UnevenLight, u: number, v: number): number =>
  (across * u + down * v) / 2 + (corners * (u * u + v * v)) / 2;
