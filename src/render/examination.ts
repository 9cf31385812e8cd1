import { writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { archive, type Archive } from '../archive/database';
import { findItem, markItem, measuredStream, saveCondition, thumbnailPath, unexamined } from '../archive/items';
import { archivePaths } from '../archive/paths';
import { currentPlan, savePlan } from '../archive/plans';
import type { Item } from '../archive/types';
import { applicationRoot } from '../core/kernels/wasm';
import { proposePlan } from '../core/plan/plan';
import { TOOL_ENVIRONMENT } from '../media/confine';
import { FRAME_SHARE } from '../media/limits';
import type { Examined } from './examiner';
import { threadCount } from './pool';
import { ProcessEnded, ProcessPool } from './processPool';
import { sourceRef } from './proofPool';
import type { SourceRef } from './segment';

/** Items examined at once at the most: while one takes long, others go on. */
const MAX_AT_ONCE = 2;
/** Milliseconds an examination may take. */
const PATIENCE_MS = 10 * 60_000;
/** Times one is begun that ends its process. */
const MAX_TRIES = 2;

declare global {
  var waireticExaminers: ProcessPool<SourceRef, Examined> | undefined;
}

function examiners(): ProcessPool<SourceRef, Examined> {
  globalThis.waireticExaminers ??= new ProcessPool({
    entry: path.join(/* turbopackIgnore: true */ applicationRoot(), 'dist', 'examiner.mjs'),
    environment: {
      ...TOOL_ENVIRONMENT,
      WAIRETIC_ROOT: applicationRoot(),
      WAIRETIC_HOME: archivePaths().root,
      ...(process.env.WAIRETIC_MODELS && { WAIRETIC_MODELS: process.env.WAIRETIC_MODELS }),
    },
    processes: Math.min(MAX_AT_ONCE, threadCount()),
    memory: os.totalmem() * FRAME_SHARE,
    patience: PATIENCE_MS,
  });
  return globalThis.waireticExaminers;
}

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
    const { report, thumbnail } = await examined(a, item);
    await writeFile(thumbnailPath(a, item), thumbnail);
    // A half of an item that was split has its plan already.
    if (!(await currentPlan(a, itemId)))
      await savePlan(a, itemId, proposePlan(report, measuredStream({ ...item, condition: report })), 'proposed from the condition report');
    await saveCondition(a, itemId, report);
  } catch (error) {
    await markItem(a, itemId, 'failed', `It could not be examined: ${(error as Error).message}`);
  }
}

async function examined(a: Archive, item: Item): Promise<Examined> {
  const source = await sourceRef(a, item);
  for (let tries = 1; ; tries++) {
    try {
      return await examiners().run(source);
    } catch (error) {
      if (!(error instanceof ProcessEnded) || tries === MAX_TRIES) throw error;
    }
  }
}
