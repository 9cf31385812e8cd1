import { expect, it } from 'vitest';
import { newPlane, NEUTRAL_CHROMA, type Picture } from '../src/core/picture/picture';
import { streamInfo } from '../src/core/testing/pictures';
import type { Trial } from './colourTrials';
import { namedIn } from './named';

/** A picture of one colour, in codes of chroma. */
function even(cb: number, cr: number): Picture {
  const info = streamInfo({ width: 80, height: 64, frames: 1, chromaShiftX: 0, chromaShiftY: 0 });
  const planes = [30_000, NEUTRAL_CHROMA + 257 * cb, NEUTRAL_CHROMA + 257 * cr].map((code) => newPlane(80, 64, code));
  return { info, region: { x: 0, y: 0, width: 80, height: 64 }, planes };
}

const trial = (truth: Picture, doubt: number): Trial => ({ name: '14f577ec.png', truth, doubt: () => doubt }) as unknown as Trial;

it('named things are right within 45 degrees of the hue they have', () => {
  const brick = even(-12, 18);
  const judged = (made: Picture): boolean[] => namedIn('places', trial(brick, 10), made).map(({ right }) => right);
  expect(judged(even(-4, 9))).toEqual(Array(8).fill(true));
  expect(judged(even(15, 10))).toEqual(Array(8).fill(false));
  expect(judged(even(0, 0))).toEqual(Array(8).fill(false));
});

it('things without a hue are not judged, and doubt is told', () => {
  expect(namedIn('places', trial(even(2, 2), 10), even(2, 2))).toEqual([]);
  const [one] = namedIn('places', trial(even(-12, 18), 50), even(-12, 18));
  expect(one).toEqual({ thing: 'brick', sure: false, right: true });
  expect(namedIn('elsewhere', trial(even(-12, 18), 50), even(-12, 18))).toEqual([]);
});
