import { clearness } from './likeness';

/** What is known of an appearance when references are chosen. */
export interface ReferenceFace {
  pixels: number;
  yaw: number;
  /** Deviation of the point spread, in pixels; left out where it could not be measured. */
  blur?: number;
}

/** Pixels of a face from which more do not make a better reference. */
const ENOUGH = 200;
/** Blur of a face that was sharp, as a share of its width. */
const SHARP = 0.006;

/** How sharp a face is for its size, 0 to 1. */
const sharpness = ({ pixels, blur }: ReferenceFace): number =>
  0.4 + 0.6 * (blur === undefined ? 0.5 : Math.min(1, (SHARP * pixels) / Math.max(blur, 0.3)));

/** How good a reference a face is, 0 to 1: large, sharp, and seen from the front. */
export const referenceWorth = (face: ReferenceFace): number => Math.min(1, face.pixels / ENOUGH) * sharpness(face) * clearness(face);

/** A face, and the year it is of, where that is known. */
export interface DatedFace extends ReferenceFace {
  year?: number;
}

/** Blur of a face that shows as much as its pixels can, in pixels, and how much more than another one it must show to restore it. */
const AS_FINE = 0.6,
  MORE = 1.15;
/** Degrees, and years where nobody's birth is known, at which faces are less alike by a factor of e; and what an unknown year counts as. */
const TURNED = 25,
  YEARS = 15,
  UNDATED = 0.6;
/** How much less alike people look from one span of ages to the next. */
const NEXT_SPAN = 0.65;

/**
 * How well a face serves to restore another one of the same person, 0 to 1: by its worth, how near it is in pose and in age. 0 where it shows no more.
 * @param born the person's year of birth, where it is known.
 */
export function referenceFit(face: DatedFace, other: DatedFace, born?: number): number {
  if (shown(other) < MORE * shown(face)) return 0;
  const posed = Math.exp(-(((face.yaw - other.yaw) / TURNED) ** 2));
  return Math.min(1, other.pixels / ENOUGH) * sharpness(other) * posed * ageLikeness(face.year, other.year, born);
}

/** Pixels that a face has anything to show in. */
const shown = ({ pixels, blur = 1 }: ReferenceFace): number => pixels / Math.max(1, blur / AS_FINE);

function ageLikeness(year: number | undefined, other: number | undefined, born: number | undefined): number {
  if (year === undefined || other === undefined) return UNDATED;
  if (born === undefined) return Math.exp(-Math.abs(year - other) / YEARS);
  const span = (age: number): number => SPANS.indexOf(ageSpan(age)[0]);
  return NEXT_SPAN ** Math.abs(span(year - born) - span(other - born));
}

/** Years that people look alike over: in their first years few. */
const SPANS = [0, 3, 7, 12, 18, 25, 35, 45, 55, 65, 75, 130];

/** The span of ages that an age is in: from, and before. */
export function ageSpan(age: number): [from: number, before: number] {
  const at = Math.max(
    1,
    SPANS.findIndex((from) => from > age),
  );
  return [SPANS[at - 1], SPANS[at]];
}
