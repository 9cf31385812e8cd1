import { writeFile } from 'node:fs/promises';
import {
  type Analysis,
  type Archive,
  archive,
  conditionAnalysis,
  currentPlan,
  findItem,
  type Item,
  itemAnalysisFile,
  markItem,
  measuredStream,
  saveCondition,
  savePlan,
  thumbnailAnalysis,
  thumbnailPath,
  unexamined,
} from '../archive';
import { type ConditionReport, proposePlan } from '../core';
import { analysed, type WantedAnalysis } from './analyse';
import { sourceRef } from './sourceRef';

/** Examines an item in the background; its plan is proposed from what is found. */
export function examineLater(itemId: string): void {
  void examineItem(itemId).catch((error: Error) => console.error(`examining ${itemId}: ${error.message}`));
}

/** Takes up examinations that a restart cut short. */
export async function resumeExaminations(): Promise<void> {
  for (const id of await unexamined(await archive())) examineLater(id);
}

/** What is examined, and where what is measured of it is kept. */
interface Examined extends Pick<WantedAnalysis<unknown>, 'stream' | 'describe'> {
  fileOf<T>(analysis: Analysis<T>): string;
}

/** The condition report of an item; its thumbnail is kept first, for it takes a moment and the report may take minutes. */
export async function examined(a: Archive, item: Item, { fileOf, ...of }: Examined): Promise<ConditionReport> {
  const thumbnail = await analysed({ ...of, analysis: thumbnailAnalysis, file: fileOf(thumbnailAnalysis) });
  await writeFile(thumbnailPath(a, item), thumbnail);
  return analysed({ ...of, analysis: conditionAnalysis, file: fileOf(conditionAnalysis) });
}

async function examineItem(itemId: string): Promise<void> {
  const a = await archive();
  const item = await findItem(a, itemId);
  if (item?.state !== 'examining') return;
  try {
    const report = await examined(a, item, {
      fileOf: (analysis) => itemAnalysisFile(a, item, analysis),
      stream: item.facts.stream,
      describe: async () => ({ source: await sourceRef(a, item, item.facts.stream) }),
    });
    // A half of an item that was split has its plan already.
    if (!(await currentPlan(a, itemId)))
      await savePlan(a, itemId, proposePlan(report, measuredStream({ ...item, condition: report })), 'proposed from the condition report');
    await saveCondition(a, itemId, report);
  } catch (error) {
    await markItem(a, itemId, 'failed', `It could not be examined: ${(error as Error).message}`);
  }
}
