import { readDamage, type Doubted, type PlaneReading } from '../networks/condition';
import type { Picture, Plane, StreamInfo } from '../picture/picture';
import { NetworkError } from '../networks/model';
import { fieldOf, measureMovingGrain } from './movingGrain';
import { measureGrain, type GrainReading } from './grain';

/** What was done to the picture, with how far each figure may be off. */
export interface Damage {
  grainLuma: Doubted;
  grainChroma: Doubted;
  grainSize: number;
  grainSizeChroma: number;
  /** Quantiser step, see `Steering`. */
  step: Doubted;
}

/** Parts the network reads: of luma, of both chroma planes. */
const LUMA_PARTS = 36,
  CHROMA_PARTS = 12;
/** Doubt, in octaves, of what two ways of measuring agree on. */
const AGREED = 0.1;
/** Octaves off at which a reading still serves; `confidenceOf` is the chance that it is no further off. */
const TOLERATED = 0.5;

/** How sure a reading is, 0 to 1: of a Laplace distribution of its doubt, what lies within half an octave. */
export const confidenceOf = (doubt: number): number => 1 - Math.exp(-TOLERATED / doubt);

/** What a reading is at least, one doubt below what it says: what is unsure is proposed mildly. */
export const atLeast = ({ value, doubt }: Doubted): number => Math.max(0, (1 + value) * 2 ** -doubt - 1);

/**
 * Grain and coding of a still, or of runs of consecutive frames. Of moving images the grain is what differs along motion, held
 * against what the network reads in the frames by themselves: texture that moves unevenly passes for grain in the first, a texture
 * like none it was taught in the second, but seldom in both.
 *
 * @param runs consecutive frames each; of a still its picture, without what is not picture.
 * @param byLines whether the lines of alternate fields must not be mixed.
 */
export async function measureDamage(runs: Picture[][], { planes, frames }: StreamInfo, byLines: boolean): Promise<Damage> {
  const taken = (run: Picture[], n: number, index: number): Plane => (byLines ? fieldOf(run[n].planes[index], 0) : run[n].planes[index]);
  const middle = (run: Picture[]): number => run.length >> 1;
  const read = async (index: number, parts: number): Promise<PlaneReading> => {
    const looks = runs.map((run) => taken(run, middle(run), index));
    try {
      return await readDamage(looks, parts);
    } catch (error) {
      if (!(error instanceof NetworkError)) throw error;
      return withoutNetwork(looks[0]);
    }
  };
  const moving = (index: number): GrainReading | undefined => {
    const found = runs.flatMap((run) => {
      const n = middle(run);
      return (n > 0 && measureMovingGrain(taken(run, n - 1, index), taken(run, n, index))) || [];
    });
    return found.sort((a, b) => a.sigma - b.sigma).at(found.length >> 1);
  };
  const still = frames === 1;
  const luma = await read(0, LUMA_PARTS);
  const lumaGrain = still ? { grain: luma.grain, size: luma.size } : combineReadings(luma, moving(0));
  const none = { grain: { value: 0, doubt: AGREED }, size: 0 };
  const chroma = [];
  if (planes === 3) {
    for (const index of [1, 2]) {
      const reading = await read(index, CHROMA_PARTS);
      chroma.push(still ? { grain: reading.grain, size: reading.size } : combineReadings(reading, moving(index)));
    }
  }
  // The stronger of both planes.
  const coloured = chroma.sort((a, b) => b.grain.value - a.grain.value).at(0) ?? none;
  return {
    grainLuma: lumaGrain.grain,
    grainSize: rounded(lumaGrain.size),
    grainChroma: coloured.grain,
    grainSizeChroma: rounded(coloured.size),
    step: luma.step,
  };
}

/** What statistics alone say, which cannot tell texture from grain: never sure. */
function withoutNetwork(plane: Plane): PlaneReading {
  const { sigma, size } = measureGrain(plane, false);
  return { grain: { value: sigma, doubt: 2 }, size, step: { value: 0, doubt: 2 } };
}

const rounded = (v: number): number => Math.round(v * 20) / 20;

/** Octaves of 1 + a value. */
const octaves = (value: number): number => Math.log2(1 + value);

/** What the network reads in frames by themselves and what moves, as one. */
export function combineReadings(
  reading: Pick<PlaneReading, 'grain' | 'size'>,
  moving: GrainReading | undefined,
): { grain: Doubted; size: number } {
  const { grain } = reading;
  if (!moving) return reading;
  const apart = octaves(moving.sigma) - octaves(grain.value);
  // What does not differ along motion is no grain, whatever it looks like.
  if (apart <= 0) return { grain: { value: moving.sigma, doubt: AGREED }, size: moving.size };
  // What the network might have read is as sure as both are near; beyond it, uneven motion is the likelier cause.
  const value = Math.min(moving.sigma, (1 + grain.value) * 2 ** grain.doubt - 1);
  const doubt = apart <= grain.doubt ? Math.max(AGREED, apart / 3) : apart;
  return { grain: { value, doubt }, size: moving.size };
}
