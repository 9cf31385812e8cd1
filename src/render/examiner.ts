import { analysisOf, keepAnalysis, type Piece, readAnalysis } from '../archive';
import { compile, PictureCache, SOURCE_NODE } from '../core';
import { emptyPlan, type Plan } from '../shared/plan';
import { openSource } from '../media';
import type { Answer } from './processPool';
import { resourcesOf } from './resources';
import type { SourceRef } from './segment';

/** One thing to be measured of a node of a plan. */
export interface AnalysisTask {
  analysis: string;
  source: SourceRef;
  /** The plan and its node; the source's own pictures when left out. */
  of?: { plan: Plan; node: string };
  /** The piece that is measured; all of it when left out. */
  piece?: Piece;
  /** Where it is kept, whole or as far as it goes. */
  file: string;
}

/** Milliseconds after which what was measured so far is kept. */
const KEEP_MS = 1500;

/** Bytes of pictures kept while measuring. */
const CACHE_BYTES = 100 << 20;

async function measure({ analysis: id, source: ref, of, piece, file }: AnalysisTask): Promise<void> {
  const analysis = analysisOf(id);
  if (!analysis) throw new Error(`there is no analysis ${id}`);
  const source = await openSource(ref.path, ref.key, ref.probed, ref.info);
  try {
    const resources = resourcesOf(ref);
    const graph = compile(of?.plan ?? emptyPlan(), source, { cache: new PictureCache(of ? CACHE_BYTES : 0), ...resources });
    const node = graph.node(of?.node ?? SOURCE_NODE);
    if (!node) throw new Error(`the plan has no node ${of?.node}`);
    const kept = await readAnalysis(file, analysis);
    let last = performance.now();
    const progress = async (value: unknown, share: number): Promise<void> => {
      if (share >= 1 || performance.now() - last < KEEP_MS) return;
      last = performance.now();
      await keepAnalysis(file, analysis, { value, share });
    };
    const known = (other: string): unknown => resources.analysis?.(node.key, other)?.value;
    const measured = { node, source, path: ref.path, facts: ref.probed.facts, known };
    const value = await analysis.measure(measured, { kept: kept?.value, piece, progress, cancelled: () => !process.connected });
    await keepAnalysis(file, analysis, { value, share: 1 });
  } finally {
    source.close?.();
  }
}

async function answer(task: AnalysisTask): Promise<Answer<true>> {
  try {
    await measure(task);
    return { result: true };
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

/** Entry of a process that measures: one task a message. It ends with whoever started it. */
process.on('message', (task: AnalysisTask) => void answer(task).then((told) => process.send?.(told)));
process.on('disconnect', () => process.exit());
