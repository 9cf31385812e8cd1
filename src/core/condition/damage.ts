import { readDamage, type Doubted, type PlaneReading } from '../networks/condition';
import type { Picture, Plane, StreamInfo } from '../picture/picture';
import { NetworkError } from '../networks/model';
import { fieldOf, measureMovingGrain } from './movingGrain';
import { evennessOf, measureGrain, type GrainReading } from './grain';
import { LIKELY, SURE } from './report';
import { measureWhiteNoise } from './whiteNoise';

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
/** Doubt of what the network could have read: grain that is even all over, or differs along motion; and how many of its doubts off that may be. */
const EVEN = 0.25,
  REACH = 2;
/** Noise of single pixels, in codes of 255, that the plainest parts of a clean picture may be mistaken for, gravel and moss among them. */
const TEXTURED = 10;
/** Share of the noise's deviation that plain parts show: those happen to have less of it. */
const SHOWN = 0.92;
/** Octaves within which such noise and a reading say the same; with so much of it, or the more at a reading so doubtful, they are sure. */
const SAME = 0.35;
/** Radius, in pixels, below which the network takes grain for such noise. */
const FINE = 0.2;
const CONFIRMED = [
  { from: 3, doubt: 0.5 },
  { from: 6, doubt: 0.75 },
];
/** Doubt of a reading in a picture that is the same all over, and up to how much grain such pictures are drawn with. */
const UNIFORM = 0.5,
  ASPHALT = 6;
/** Doubt of noise that is more than any texture's. */
const CLEAREST = 0.12;
/** Doubts below a reading that is acted on mildly: of one that is confirmed, of any other. */
const BELOW = { confirmed: 1, alone: 3 };
/** Octaves off at which a reading still serves; `confidenceOf` is the chance that it is no further off. */
const TOLERATED = 0.5;

/** How sure a reading is, 0 to 1: of a Laplace distribution of its doubt, what lies within half an octave. */
export const confidenceOf = (doubt: number): number => 1 - Math.exp(-TOLERATED / doubt);

/** What a reading is at least, some doubts below what it says. */
export const atLeast = ({ value, doubt }: Doubted, doubts = 1): number => Math.max(0, (1 + value) * 2 ** (-doubts * doubt) - 1);

/** A reading of grain: what it is, its radius, and what it is at least, which is proposed where it is unsure. */
export interface GrainDamage {
  grain: Doubted;
  size: number;
  least: number;
}

const alone = ({ grain, size }: Pick<PlaneReading, 'grain' | 'size'>): GrainDamage => ({ grain, size, least: atLeast(grain, BELOW.alone) });

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

/**
 * A still's reading, with the statistics of its plain parts where the network is unsure: grain of some size, which it cannot tell from
 * texture part by part, is told by being the same all over.
 */
function withStatistics(reading: PlaneReading, plane: Plane): GrainDamage {
  const { grain, size: radius } = reading;
  const evenness = evennessOf(plane);
  const confidence = confidenceOf(grain.doubt);
  if (confidence >= LIKELY) {
    // Asphalt is all grain, to the network too.
    const texture = confidence < SURE && evenness === 'same all over' && grain.value < ASPHALT;
    return alone(texture ? { grain: { ...grain, doubt: Math.max(grain.doubt, UNIFORM) }, size: radius } : reading);
  }
  if (evenness === 'grain') {
    const { sigma, size } = measureGrain(plane, false);
    const apart = octaves(sigma) - octaves(grain.value);
    if (apart <= REACH * grain.doubt) return alone({ grain: { value: sigma, doubt: EVEN }, size });
  }
  return withWhiteNoise(reading, measureWhiteNoise(plane) ?? 0);
}

/**
 * A reading that is unsure, with the noise of single pixels that the picture's plainest parts show: sure where both say the same and it
 * is not little, and where it is more than any texture's.
 * @param shown deviation in codes of 255.
 */
export function withWhiteNoise(own: Pick<PlaneReading, 'grain' | 'size'>, shown: number): GrainDamage {
  const value = shown / SHOWN;
  const apart = octaves(value) - octaves(own.grain.value);
  const least = Math.sqrt(Math.max(0, shown ** 2 - TEXTURED ** 2));
  const doubt = Math.max(CLEAREST, octaves(shown) - octaves(least));
  if (doubt < own.grain.doubt && (apart > -SAME || own.size < FINE)) return alone({ grain: { value, doubt }, size: 0 });
  if (apart < -SAME || apart > Math.max(SAME, own.grain.doubt)) return alone(own);
  if (apart <= SAME && CONFIRMED.some((c) => shown >= c.from && own.grain.doubt <= c.doubt))
    return alone({ grain: { value, doubt: EVEN }, size: 0 });
  return { ...alone(own), least: atLeast(own.grain, BELOW.confirmed) };
}

/** What statistics alone say, which cannot tell texture from grain: never sure. */
function withoutNetwork(plane: Plane): PlaneReading {
  const { sigma, size } = measureGrain(plane, false);
  return { grain: { value: sigma, doubt: 2 }, size, step: { value: 0, doubt: 2 } };
}

/** Octaves of 1 + a value. */
const octaves = (value: number): number => Math.log2(1 + value);

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
  if (apart <= grain.doubt) return read(moving.sigma, apart <= NEAR ? AGREED : EVEN);
  // Beyond it, it is motion between pixels, or coding that boils, which is noise of a share of its step and goes the same way.
  if (codedStep === 0) return read(moving.sigma, Math.max(MOVED, apart));
  const above = Math.min(1, Math.max(0, (moving.sigma - UNEVEN.from) / (UNEVEN.to - UNEVEN.from)));
  return read(Math.min(BOILING * codedStep, CARRIED * above * moving.sigma), DISPUTED);
}
