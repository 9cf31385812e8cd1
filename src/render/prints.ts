import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { archive, currentPlan, itemsOfPrints, measuredStream, thumbnailPath, type Item } from '../archive';
import { outputStream } from '../core';
import { mapSteps } from '../shared/plan';
import { proofItem } from './proofPool';

/** Longest side of a thumbnail. */
const SIDE = 480;

/** Makes an item of each print on a scan of several, with a thumbnail of its own. @throws PlanError where there are not several. */
export async function makePrints(item: Item): Promise<Item[]> {
  const a = await archive();
  const prints = await itemsOfPrints(a, item);
  for (const [n, print] of prints.entries()) {
    const whole = (await currentPlan(a, print.id))?.plan;
    if (!whole) continue;
    const plan = mapSteps(whole, (step) => ({ ...step, on: step.treatment === 'perspective' }));
    const output = outputStream(plan, measuredStream(print));
    const scale = SIDE / Math.max(output.width, output.height);
    const fit = { width: Math.round(output.width * scale), height: Math.round(output.height * scale) };
    const { pixels, width, height } = await proofItem(print, {
      ...{ plan, frame: 0, region: { x: 0, y: 0, width: 1, height: 1 }, fit },
      ...{ viewer: `prints of ${item.id}`, turn: n + 1, lane: 'side' as const },
    });
    const jpeg = await sharp(pixels, { raw: { width, height, channels: 4 } })
      .removeAlpha()
      .jpeg({ quality: 85 })
      .toBuffer();
    await writeFile(thumbnailPath(a, print), jpeg);
  }
  return prints;
}
