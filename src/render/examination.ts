import { writeFile } from 'node:fs/promises';
import {
  archive,
  conditionAnalysis,
  currentPlan,
  findItem,
  itemAnalysisFile,
  markItem,
  measuredStream,
  saveCondition,
  savePlan,
  thumbnailPath,
  unexamined,
} from '../archive';
import { proposePlan } from '../core';
import { analysed } from './analyse';
import { sourceRef } from './sourceRef';

/** Examines an item in the background; its plan is proposed from what is found. */
export function examineLater(itemId: string): void {
  void examineItem(itemId).catch((error: Error) => console.error(`examining ${itemId}: ${error.message}`));
}

/** Takes up examinations that a restart cut short. */
export async function resumeExaminations(): Promise<void> {
  for (const id of await unexamined(await archive())) examineLater(id);
}

async function examineItem(itemId: string): Promise<void> {
  const a = await archive();
  const item = await findItem(a, itemId);
  if (item?.state !== 'examining') return;
  try {
    const file = itemAnalysisFile(a, item, conditionAnalysis);
    const { report, thumbnail } = await analysed({
      analysis: conditionAnalysis,
      file,
      stream: item.facts.stream,
      describe: async () => ({ source: await sourceRef(a, item, item.facts.stream) }),
    });
    await writeFile(thumbnailPath(a, item), thumbnail);
    // A half of an item that was split has its plan already.
    if (!(await currentPlan(a, itemId)))
      await savePlan(a, itemId, proposePlan(report, measuredStream({ ...item, condition: report })), 'proposed from the condition report');
    await saveCondition(a, itemId, report);
  } catch (error) {
    await markItem(a, itemId, 'failed', `It could not be examined: ${(error as Error).message}`);
  }
}
