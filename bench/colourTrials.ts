import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { type Colours, type Ground, groundOf } from '../src/core/colour/colours';
import { guessColours } from '../src/core/colour/guess';
import { layColours } from '../src/core/colour/lay';
import { tonesOf, type Tones } from '../src/core/colour/tones';
import { colourDifference, labOf } from '../src/core/metrics/colourDifference';
import { TRANSFERS } from '../src/core/picture/light';
import { fromRgb, toRgb } from '../src/core/picture/matrix';
import { newPlane, NEUTRAL_CHROMA, type Picture, type StreamInfo } from '../src/core/picture/picture';
import { streamInfo } from '../src/core/testing/pictures';
import { ColouriseSettings } from '../src/core/treatments/colourise/colourise';
import { FOLDER } from './prints';

/** Photographs made monochrome, and what the program makes of them. */

/** Longest side of the pictures. */
const SIDE = 480;
/** Mean codes of chroma from which a picture is one in colours. */
const COLOURED = 5;
const FULL: StreamInfo['colour'] = { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' };
const { toLight } = TRANSFERS.srgb;
const light = Float32Array.from({ length: 256 }, (_, v) => toLight(v / 255));
export const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/** A photograph, what is left of it without colours, and what the program makes of that untouched. */
export interface Trial {
  name: string;
  truth: Picture;
  mono: Picture;
  tones: Tones;
  ground: Ground;
  doubt: (x: number, y: number) => number;
}

export async function trialsOf(of: 'held' | 'places' | 'faces', kind: string): Promise<Trial[]> {
  const folder = path.join(FOLDER, of);
  if (!existsSync(folder)) throw new Error(`${folder} is missing; "./run train held-out" makes it`);
  const made: Trial[] = [];
  for (const file of readdirSync(folder)
    .sort()
    .filter((name) => name.startsWith(kind))) {
    const { data, info: size } = await sharp(path.join(folder, file))
      .removeAlpha()
      .toColourspace('srgb')
      .resize({ width: SIDE, height: SIDE, fit: 'inside' })
      .raw()
      .toBuffer({ resolveWithObject: true });
    const truth = fromRgb(new Uint8Array(data), 3, still(size.width, size.height, 3));
    if (strengthOf(truth) < COLOURED) continue;
    made.push({ name: file, ...(await trialOf(truth)) });
  }
  return made;
}

export const still = (width: number, height: number, planes: 1 | 3): StreamInfo =>
  streamInfo({ width, height, planes, frames: 1, chromaShiftX: 0, chromaShiftY: 0, depth: 8, colour: FULL });

async function trialOf(truth: Picture): Promise<Omit<Trial, 'name'>> {
  const { width, height } = truth.info;
  const mono: Picture = { info: still(width, height, 1), region: truth.region, planes: [truth.planes[0]] };
  const tones = tonesOf(mono);
  const guess = await guessColours(tones);
  const { vividness, quiet } = new ColouriseSettings();
  const ground = groundOf(tones, [], { guess, leaning: 'likely', vividness: vividness / 100, quiet: quiet / 100 });
  const doubt = (x: number, y: number): number =>
    guess.doubt[Math.floor((y * guess.height) / height) * guess.width + Math.floor((x * guess.width) / width)];
  return { truth, mono, tones, ground, doubt };
}

export const laid = ({ mono, tones, truth }: Pick<Trial, 'mono' | 'tones' | 'truth'>, colours: Colours): Picture =>
  layColours(mono, mono.region, { ...truth.info, depth: 16 }, tones, colours, { weight: 1 });

/** The monochrome picture with one chroma all over, in codes of 255. */
export function inOneColour({ mono, truth }: Pick<Trial, 'mono' | 'truth'>, cb: number, cr: number): Picture {
  const { width, height } = truth.info;
  return {
    ...truth,
    planes: [mono.planes[0], ...[cb, cr].map((v) => newPlane(width, height, Math.round(NEUTRAL_CHROMA + 257 * v)))],
  };
}

/** Mean length of the chroma in codes of 255. */
export function strengthOf({ planes: [, cb, cr] }: Picture): number {
  let sum = 0;
  for (let i = 0; i < cb.data.length; i++) sum += Math.hypot(cb.data[i] - NEUTRAL_CHROMA, cr.data[i] - NEUTRAL_CHROMA);
  return sum / cb.data.length / 257;
}

/** Pixels between those that are compared. */
const STRIDE = 3;

/** CIEDE2000 between two pictures at every `STRIDE`th pixel, with where it is. */
export function differences(one: Picture, other: Picture): { x: number; y: number; off: number }[] {
  const [a, b] = [one, other].map((p) => toRgb(p, 8));
  const { width, height } = one.info;
  const out: { x: number; y: number; off: number }[] = [];
  const lab = (rgb: ArrayLike<number>, i: number) => labOf(light[rgb[3 * i]], light[rgb[3 * i + 1]], light[rgb[3 * i + 2]]);
  for (let y = 1; y < height; y += STRIDE)
    for (let x = 1; x < width; x += STRIDE) {
      const i = y * width + x;
      out.push({ x, y, off: colourDifference(lab(a, i), lab(b, i)) });
    }
  return out;
}

export const apart = (one: Picture, other: Picture): number => mean(differences(one, other).map(({ off }) => off));

/** A ratio as what it is above or below one. */
export const percent = (ratio: number): string => `${ratio < 1 ? '−' : '+'}${Math.abs(100 * (ratio - 1)).toFixed(1)} %`;
