import {
  ANALYSES,
  type Analysis,
  analysisFile,
  analysisOf,
  type Archive,
  findAnalysisIn,
  type Item,
  measuredStream,
  pictureKey,
  type AwaitedAnalysis,
} from '../archive';
import { layOut, type MissingAnalysis, PlanError } from '../core';
import type { Plan } from '../shared/plan';
import { analysed, analysisState } from './analyse';
import type { AnalysisTask } from './examiner';
import { sourceRef } from './sourceRef';

function found({ analysis: id }: MissingAnalysis): Analysis<unknown> {
  const analysis = analysisOf(id);
  if (!analysis) throw new PlanError(`Nothing is known of an analysis "${id}".`);
  return analysis;
}

/** What is to be measured: the node of that key. */
async function taskFor(a: Archive, item: Item, plan: Plan, { key }: MissingAnalysis): Promise<Pick<AnalysisTask, 'source' | 'of'>> {
  const { nodes } = layOut(plan, measuredStream(item), pictureKey(item), findAnalysisIn(a.paths.derived, ANALYSES));
  const node = [...nodes].find(([, laid]) => laid.key === key)?.[0];
  return { source: await sourceRef(a, item), ...(node && { of: { plan, node } }) };
}

/** Measures everything a plan reads that is not there yet, before it is rendered. @throws Error with what went wrong. */
export async function measureMissing(a: Archive, item: Item, plan: Plan): Promise<void> {
  const find = findAnalysisIn(a.paths.derived, ANALYSES);
  const made = new Set<string>();
  for (;;) {
    const [next] = layOut(plan, measuredStream(item), pictureKey(item), find).missing;
    if (!next) return;
    const analysis = found(next);
    const file = analysisFile(a.paths.derived, analysis, next.key);
    if (made.has(file)) throw new PlanError(`${analysis.name} was measured, and cannot be read.`);
    made.add(file);
    await analysed(analysis, file, () => taskFor(a, item, plan, next));
  }
}

/** How far the analyses are that steps of a proof wait for; they are begun. */
export const awaitedOf = (a: Archive, item: Item, plan: Plan, missing: MissingAnalysis[]): Promise<AwaitedAnalysis[]> =>
  Promise.all(
    missing.map(async (one) => {
      const analysis = found(one);
      const file = analysisFile(a.paths.derived, analysis, one.key);
      const { share, secondsLeft, problem } = await analysisState(analysis, file, () => taskFor(a, item, plan, one));
      return { step: one.step, name: analysis.name, share, secondsLeft, problem };
    }),
  );
