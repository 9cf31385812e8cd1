import { mkdtemp, readFile, rm } from 'node:fs/promises';
import path from 'node:path';
import { archive, currentPlan, type Item, measuredStream } from '../archive';
import { crop, type CropSettings, outputStream, type StreamInfo } from '../core';
import { evenPart, type Place } from '../shared/maps/place';
import { emptyPlan, type Plan } from '../shared/plan';
import { sourceRef } from './sourceRef';
import { treatFile } from './treatFile';

/** A plan whose result is a part of another's. @param part in pixels of the output. */
export function croppedPlan(plan: Plan, { width, height }: StreamInfo, part: Place): Plan {
  const settings: CropSettings = { left: part.x, top: part.y, right: width - part.x - part.width, bottom: height - part.y - part.height };
  return { ...plan, steps: [...plan.steps, { id: 'crop-out', treatment: crop.id, on: true, settings: { ...settings } }] };
}

/**
 * A part of a still as its plan makes it now, as PNG of all its bits in the source's colours, to be worked on elsewhere.
 * @param part in fractions of the result; it is widened to even pixels.
 * @throws PlanError where less than 16 pixels a side would stay.
 */
export async function cropOut(item: Item, part: Place): Promise<Buffer> {
  const a = await archive();
  const plan = (await currentPlan(a, item.id))?.plan ?? emptyPlan();
  const info = measuredStream(item);
  const output = outputStream(plan, info);
  const folder = await mkdtemp(path.join(a.paths.uploads, 'crop-'));
  try {
    const source = await sourceRef(a, item);
    const file = path.join(folder, 'crop.png');
    await treatFile({ ...source, source, plan: croppedPlan(plan, output, evenPart(part, output)), output: file, space: 'source' });
    return await readFile(file);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
