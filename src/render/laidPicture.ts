import { archive, currentPlan, type Item, keepPicture } from '../archive';
import { emptyPlan } from '../shared/plan';
import { proofItem } from './proofPool';

/** Longest side that is kept: a background is seldom looked at closer. */
const LONGEST = 4096;

/** Keeps a still as its plan makes it now, in sRGB, so that steps of other items may lay it in. @returns the name it is kept under. */
export async function layPicture(item: Item): Promise<string> {
  const a = await archive();
  const plan = (await currentPlan(a, item.id))?.plan ?? emptyPlan();
  const whole = { x: 0, y: 0, width: 1, height: 1 };
  const fit = { width: LONGEST, height: LONGEST };
  const viewer = `laid ${item.id}`;
  const { pixels, width, height } = await proofItem(item, { plan, frame: 0, region: whole, fit, viewer, turn: 1, lane: 'side' });
  return keepPicture(a.paths.marks, pixels, width, height);
}
