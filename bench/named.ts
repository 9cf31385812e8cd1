import type { Trial } from './colourTrials';
import { NEUTRAL_CHROMA, type Picture } from '../src/core/picture/picture';

/** Places of held-out photographs whose things have a name, and how often they are given the colour that they have. */

export type Thing = 'sky' | 'foliage' | 'skin' | 'hair' | 'wood' | 'brick' | 'sand' | 'water';

/** Fields of a raster over the picture, by column and row from its upper left, counted from 0: labelled by looking at the photographs. */
const COLUMNS = 10,
  ROWS = 8;

/** By folder and beginning of the file's name. */
const LABELS: Record<string, Record<string, Partial<Record<Thing, string>>>> = {
  held: {
    'photograph-02': { sky: '5,0 6,0 7,0 4,0 3,1 8,1', brick: '7,4 7,5', foliage: '5,7 8,7' },
    'photograph-08': { foliage: '0,3 0,6' },
    'photograph-10': { foliage: '1,5 0,3 1,6' },
    'photograph-12': { sky: '7,1 2,0 8,0', foliage: '8,6 2,7 6,7 0,4', water: '7,4' },
    'photograph-18': { foliage: '3,0 2,1 2,6 7,6' },
    'photograph-22': { brick: '0,4 1,4 7,4' },
    'photograph-24': { foliage: '1,7 3,7 6,7' },
    'photograph-32': { sky: '0,1 7,1 8,2 6,2 9,0' },
    'photograph-38': { foliage: '2,6 7,6 5,5' },
  },
  places: {
    '00b89e1d': { sky: '1,1 2,1', sand: '2,6 4,6 6,7 3,5' },
    '03477a5c': { sky: '1,2 8,2 2,4 8,4' },
    '0396a832': { sky: '8,0 7,1', foliage: '3,7 7,7 9,5' },
    '043b84e9': { sky: '9,0 9,1', foliage: '1,0 5,1 7,1' },
    '059d0c52': { foliage: '2,1 1,2' },
    '0b8f484b': { sky: '1,1 9,0 2,0', foliage: '9,3 8,4' },
    '0bbc3cf7': { foliage: '6,1 7,3 5,2' },
    '0cf42b0b': { sky: '1,0 4,1', foliage: '1,3 0,4', water: '1,5 2,6' },
    '0d879a72': { sky: '1,1 8,1 3,2 9,2' },
    '0e594133': { sky: '1,0 3,0', foliage: '6,6 8,6', water: '1,6' },
    '159e227e': { foliage: '8,6 4,6' },
    '15dc496f': { sky: '1,2 8,2 1,4 8,4', foliage: '1,6 8,6 3,7 6,7' },
    '18414821': { sky: '2,0 4,0 7,0', foliage: '9,1' },
    '193a6fb9': { foliage: '0,7 3,6 2,7' },
    '199c6865': { sky: '4,0 8,1 6,0', foliage: '1,6 6,6 9,6' },
    '1dd0fd27': { foliage: '0,1 9,4 2,5 8,6 6,0' },
    '1f2b6468': { sky: '1,1 8,0 9,3', water: '1,6 9,6' },
    '0805897e': { water: '7,3 8,3 6,4', sky: '5,0 8,0 2,0' },
    '0e6f5c98': { wood: '8,7 9,5 0,5 9,7' },
    '14f577ec': { brick: '1,2 3,2 5,4 7,5 9,2 2,4 6,3 8,4' },
    '1c8d2aad': { foliage: '1,3 2,3 0,1 1,0 9,0', wood: '1,6 4,6 6,5 8,6 3,7' },
    '1ef77e2c': { foliage: '4,3 1,5' },
    '291a8797': { wood: '2,2 2,3 2,4 9,5' },
    '970c85a0': { wood: '7,4 8,4 9,3 7,5 8,5' },
    c927fa23: { brick: '0,1 1,2 0,3', wood: '1,6 0,6' },
    d2959bbb: { brick: '4,1 4,2', wood: '0,5' },
  },
  faces: {
    'scene-00': { skin: '5,2 5,3 4,3', hair: '2,1 1,4' },
    'scene-01': { skin: '5,2 6,4 4,2', hair: '2,4 7,5 3,1 8,6', foliage: '0,2 9,2 0,5' },
    'scene-02': { skin: '5,2 2,6 7,6', hair: '4,1' },
    'scene-04': { skin: '4,2 4,3', hair: '3,1', foliage: '7,1 8,3 0,2 6,2' },
    'scene-05': { skin: '4,2 5,3', hair: '3,1 5,1' },
    'scene-06': { skin: '4,2 3,4 5,4' },
    'scene-07': { skin: '5,5 6,3 3,5', hair: '3,1 5,1 2,3' },
    'scene-08': { skin: '5,3 4,4' },
    'scene-10': { wood: '3,5 2,6' },
    'scene-11': { skin: '5,4 6,4', hair: '4,1 3,3' },
  },
};

/** Codes of doubt from which a guess is taken back more than most are: up to there the program calls it sure. */
export const SURE = 36;
/** Codes of chroma under which a thing has no hue to speak of. */
const COLOURED = 6;
/** Degrees by which a hue may be off. */
const NEAR = 45;

/** A labelled place: what was made of it. */
export interface Named {
  thing: Thing;
  sure: boolean;
  /** Whether its hue is near that of the truth. */
  right: boolean;
}

/** The labelled places of a photograph that have a hue. */
export function namedIn(folder: string, trial: Trial, made: Picture): Named[] {
  const labels = Object.entries(LABELS[folder] ?? {}).find(([name]) => trial.name.startsWith(name))?.[1] ?? {};
  const { width, height } = trial.truth.info;
  return Object.entries(labels).flatMap(([thing, fields]) =>
    fields.split(' ').flatMap((field) => {
      const [column, row] = field.split(',').map(Number);
      const within = (of: Picture): [number, number] => meanChroma(of, column, row);
      const [truth, own] = [within(trial.truth), within(made)];
      if (Math.hypot(...truth) < COLOURED) return [];
      const off = Math.abs(Math.atan2(truth[0] * own[1] - truth[1] * own[0], truth[0] * own[0] + truth[1] * own[1]));
      const doubt = trial.doubt(Math.floor(((column + 0.5) * width) / COLUMNS), Math.floor(((row + 0.5) * height) / ROWS));
      const right = Math.hypot(...own) > 0 && off <= (NEAR * Math.PI) / 180;
      return [{ thing: thing as Thing, sure: doubt <= SURE, right }];
    }),
  );
}

/** Mean Cb and Cr over the middle half of a field, in codes. */
function meanChroma({ info: { width, height }, planes }: Picture, column: number, row: number): [number, number] {
  const left = Math.floor(((column + 0.25) * width) / COLUMNS),
    right = Math.ceil(((column + 0.75) * width) / COLUMNS),
    top = Math.floor(((row + 0.25) * height) / ROWS),
    bottom = Math.ceil(((row + 0.75) * height) / ROWS);
  return [1, 2].map((index) => {
    let sum = 0;
    for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) sum += planes[index].data[y * width + x] - NEUTRAL_CHROMA;
    return sum / 257 / ((bottom - top) * (right - left));
  }) as [number, number];
}
