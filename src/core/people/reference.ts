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

/** How good a reference a face is, 0 to 1: large, sharp, and seen from the front. */
export function referenceWorth({ pixels, yaw, blur }: ReferenceFace): number {
  const sharp = blur === undefined ? 0.5 : Math.min(1, (SHARP * pixels) / Math.max(blur, 0.3));
  return Math.min(1, pixels / ENOUGH) * (0.4 + 0.6 * sharp) * clearness({ pixels, yaw });
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
