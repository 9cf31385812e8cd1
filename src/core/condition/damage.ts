import { readDamage, type Doubted, type PlaneReading } from '../networks/condition';
import type { Picture, Plane, StreamInfo } from '../picture/picture';
import { NetworkError } from '../networks/model';
import { fieldOf, measureMovingGrain } from './movingGrain';
import { alone, CONFIRMED, octaves, type GrainDamage } from './doubt';
import { measureGrain, type GrainReading } from './grain';
import { withStatistics } from './stillGrain';

/** What was done to the picture, with how far each figure may be off. */
export interface Damage {
  luma: GrainDamage;
  /** Of the stronger of both planes. */
  chroma: GrainDamage;
  /** Quantiser step, see `Steering`. */
  step: Doubted;
}

/** Parts the network reads: of luma, of both chroma planes. */
const LUMA_PARTS = 36,
  CHROMA_PARTS = 12;
/** Doubt, in octaves, of what two ways of measuring agree on. */
const AGREED = 0.1;
/** Octaves within which both agree. */
const NEAR = 0.25;
/** Doubt of what differs along motion and the network does not see: of coding, and of motion alone, which is not acted on. */
const DISPUTED = 0.3,
  MOVED = 1;
/** Deviation of the noise that coding leaves, as a share of its step. */
const BOILING = 0.25;
/** Predicted frames carry the grain of those before them along: they differ by so much less than they have. Found on coded tapes. */
const CARRIED = 1.5;
/** Codes of 255 that motion between pixels leaves in clean clips: none of it is grain below the first, all of it above the second. */
const UNEVEN = { from: 1.4, to: 2 };
/**
 * Grain and coding of a still, or of runs of consecutive frames. Of moving images the grain is what differs along motion, held
 * against what the network reads in the frames by themselves: texture that moves unevenly passes for grain in the first, a texture
 * like none it was taught in the second, but seldom in both.
 *
 * @param runs consecutive frames each; of a still its picture, without what is not picture.
 * @param byLines whether the lines of alternate fields must not be mixed.
 * @param codedStep quantiser step of a codec that made frames from those before; 0 where there is none.
 */
export async function measureDamage(runs: Picture[][], { planes, frames }: StreamInfo, byLines: boolean, codedStep = 0): Promise<Damage> {
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
  const lumaGrain = still ? withStatistics(luma, taken(runs[0], 0, 0)) : combineReadings(luma, moving(0), codedStep);
  const chroma: GrainDamage[] = [];
  if (planes === 3) {
    for (const index of [1, 2]) {
      const reading = await read(index, CHROMA_PARTS);
      chroma.push(still ? withStatistics(reading, taken(runs[0], 0, index)) : combineReadings(reading, moving(index), codedStep));
    }
  }
  const stronger = chroma.sort((a, b) => b.grain.value - a.grain.value).at(0);
  return { luma: lumaGrain, chroma: stronger ?? alone({ grain: { value: 0, doubt: AGREED }, size: 0 }), step: luma.step };
}

/** What statistics alone say, which cannot tell texture from grain: never sure. */
function withoutNetwork(plane: Plane): PlaneReading {
  const { sigma, size } = measureGrain(plane, false);
  return { grain: { value: sigma, doubt: 2 }, size, step: { value: 0, doubt: 2 } };
}

/**
 * What the network reads in frames by themselves and what differs along motion, as one.
 * @param codedStep quantiser step of a codec that made frames from those before; 0 where there is none.
 */
export function combineReadings(
  { grain, size }: Pick<PlaneReading, 'grain' | 'size'>,
  moving: GrainReading | undefined,
  codedStep: number,
): GrainDamage {
  if (!moving) return alone({ grain, size });
  const apart = octaves(moving.sigma) - octaves(grain.value);
  const read = (value: number, doubt: number): GrainDamage => alone({ grain: { value, doubt }, size: moving.size });
  // What does not differ along motion is no grain, whatever it looks like.
  if (apart <= 0) return read(moving.sigma, AGREED);
  // What the network might have read is sure where both are near.
  if (apart <= grain.doubt) return read(moving.sigma, apart <= NEAR ? AGREED : CONFIRMED);
  // Beyond it, it is motion between pixels, or coding that boils, which is noise of a share of its step and goes the same way.
  if (codedStep === 0) return read(moving.sigma, Math.max(MOVED, apart));
  const above = Math.min(1, Math.max(0, (moving.sigma - UNEVEN.from) / (UNEVEN.to - UNEVEN.from)));
  return read(Math.min(BOILING * codedStep, CARRIED * above * moving.sigma), DISPUTED);
}
