import { archive, type Item, keepPicture } from '../archive';
import { emptyPlan } from '../shared/plan';
import { proofItem } from './proofPool';

/** Longest side that is kept: a background is seldom looked at closer. */
const LONGEST = 4096;

/** Keeps a still as it was taken in, in sRGB, so that steps of other items may lay it in. @returns the name it is kept under. */
export async function layPicture(item: Item): Promise<string> {
  const whole = { x: 0, y: 0, width: 1, height: 1 };
  const fit = { width: LONGEST, height: LONGEST };
  const { pixels, width, height } = await proofItem(item, {
    ...{ plan: emptyPlan(), frame: 0, region: whole, node: 'source', fit },
    ...{ viewer: `laid ${item.id}`, turn: 1, lane: 'source' },
  });
  return keepPicture((await archive()).paths.marks, pixels, width, height);
}
