import { correctedAlone, correctedBy } from './corrected';
import { smoothed } from './smoothed';

/** Luma and two chroma planes. */
export type FacePlanes = [Float32Array, Float32Array, Float32Array];

/** A face laid straight: planes of `side` squared, 0 to 1, chroma round a half. */
export interface FramedFace {
  side: number;
  planes: FacePlanes;
}

/** What is known of a framed face. */
export interface FaceWork {
  /** Pixels of the frame for one of the source. */
  ratio: number;
  /** How far the result, reduced to the source's pixels, may lie off what was there, 0 to 1: the source's noise. */
  bound: number;
  /** Nothing finer than the source's pixels is added. */
  onlySupported: boolean;
  /** Share of the grain that the picture has here which the face keeps, so that it does not stand out, 0 to 1. */
  grain: number;
  /** Deviation of the source's noise in codes of 255, and the quantiser step it was coded with, 0 for none. */
  noise: number;
  coding: number;
}

/** Deviation of the Gaussian that stands for a reduction by one, in pixels. */
const REDUCED = 0.55;
/** Sides of frames that are worked: multiples of 8. */
export const FRAME_SIDES = { least: 48, most: 256 };

/**
 * What a face is to be changed by: the networks' correction, of which what the source's pixels can say is held within their noise.
 * @param references luma of other pictures of the person, laid on the face and in its light.
 * @returns planes to be added, as the face's.
 * @throws NetworkError when a network cannot be used.
 */
export async function faceCorrection(face: FramedFace, work: FaceWork, references: readonly Float32Array[] = []): Promise<FramedFace> {
  const { side, planes } = face;
  const wanted = references.length ? await byReferences(face, work, references) : await bySelf(face, work);
  const kept = wanted.map((plane, index) => withGrain(planes[index], held(plane, side, work), side, work));
  return { side, planes: kept as FacePlanes };
}

/** What the face alone says: of small ones nothing finer than the source's pixels. */
async function bySelf(face: FramedFace, work: FaceWork, alone?: FacePlanes): Promise<FacePlanes> {
  const made = alone ?? (await correctedAlone(face, work));
  return work.onlySupported ? (made.map((plane) => smoothed(plane, face.side, supportOf(work))) as FacePlanes) : made;
}

/** What other pictures of the person say beside it: of small faces that alone may be finer than the source's pixels. */
async function byReferences(face: FramedFace, work: FaceWork, references: readonly Float32Array[]): Promise<FacePlanes> {
  const guided = await correctedBy(face, work, references);
  if (!work.onlySupported) return guided;
  const alone = await correctedAlone(face, work);
  const supported = await bySelf(face, work, alone);
  return supported.map((plane, index) => plane.map((v, i) => v + guided[index][i] - alone[index][i])) as FacePlanes;
}

/** What a face is to be changed by to look as more pictures of it say, its own grain kept as far as `work` wants it. @returns planes to be added. */
export function towardsEvidence({ side, planes }: FramedFace, evidence: FramedFace, work: FaceWork): FramedFace {
  const change = planes.map((plane, index) =>
    withGrain(
      plane,
      evidence.planes[index].map((v, i) => v - plane[i]),
      side,
      work,
    ),
  );
  return { side, planes: change as FacePlanes };
}

/** Deviation of the Gaussian that stands for the source's pixels. */
const supportOf = ({ ratio }: FaceWork): number => REDUCED * Math.max(1, ratio);

/** Side of the blocks that grain is read in, and which share of them shows nothing else. */
const BLOCK = 4,
  PLAIN = 0.1;
/** Deviations of the grain up to which what a correction takes off finely is grain. */
const AS_GRAIN = 3;
/** Deviation, in codes over 255, under which there is no grain to keep: what is left of it where it was taken off. */
const NO_GRAIN = 1.5 / 255;

/** Deviation of what is finer than the source's pixels where the plane shows little else. */
function grainOf(fine: Float32Array, side: number): number {
  const deviations: number[] = [];
  for (let top = 0; top + BLOCK <= side; top += BLOCK)
    for (let left = 0; left + BLOCK <= side; left += BLOCK) {
      let sum = 0;
      for (let y = top; y < top + BLOCK; y++) for (let x = left; x < left + BLOCK; x++) sum += fine[y * side + x] ** 2;
      deviations.push(Math.sqrt(sum) / BLOCK);
    }
  return deviations.sort((a, b) => a - b)[Math.floor(PLAIN * deviations.length)];
}

/** The correction without what of it takes the picture's own grain away. */
function withGrain(plane: Float32Array, correction: Float32Array, side: number, { ratio, grain }: FaceWork): Float32Array {
  if (grain === 0) return correction;
  const sigma = Math.max(1, ratio);
  const coarse = smoothed(plane, side, sigma);
  const bound =
    AS_GRAIN *
    grainOf(
      plane.map((v, i) => v - coarse[i]),
      side,
    );
  if (bound < AS_GRAIN * NO_GRAIN) return correction;
  const broad = smoothed(correction, side, sigma);
  return correction.map((v, i) => v - grain * Math.min(bound, Math.max(-bound, v - broad[i])));
}

/** Times, at most, that what is too much is taken off: what is left of it is smoothed away in between; and the share of the bound that may be left. */
const HOLDS = 20,
  LEFT_OVER = 0.02;

/** A correction whose part that the source's pixels can say stays within their noise (projections onto it, again and again). */
function held(correction: Float32Array, side: number, work: FaceWork): Float32Array {
  const { bound } = work,
    sigma = supportOf(work);
  const out = correction.slice();
  for (let n = 0; n < HOLDS; n++) {
    const supported = smoothed(out, side, sigma);
    let most = 0;
    for (let i = 0; i < out.length; i++) {
      const excess = supported[i] - Math.min(bound, Math.max(-bound, supported[i]));
      most = Math.max(most, Math.abs(excess));
      out[i] -= STEP * excess;
    }
    if (most <= LEFT_OVER * bound) return out;
  }
  return out;
}

/** How much of what is too much is taken off at once: smoothing makes less of it than it is. */
const STEP = 1.6;
