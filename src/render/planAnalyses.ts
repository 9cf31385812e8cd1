import {
  ANALYSES,
  analysisFile,
  analysisOf,
  type Archive,
  findAnalysisIn,
  type Item,
  measuredStream,
  pictureKey,
  type AwaitedAnalysis,
} from '../archive';
import { layOut, type MissingAnalysis, PlanError, SOURCE_NODE } from '../core';
import type { Plan } from '../shared/plan';
import { analysed, analysisState, type WantedAnalysis } from './analyse';
import { sourceRef } from './sourceRef';

/** What a step of a plan reads and is not there. @throws PlanError of an analysis nobody knows. */
function wantedOf(a: Archive, item: Item, plan: Plan, { analysis: id, key }: MissingAnalysis): WantedAnalysis<unknown> {
  const analysis = analysisOf(id);
  if (!analysis) throw new PlanError(`Nothing is known of an analysis "${id}".`);
  const { nodes, source } = layOut(plan, measuredStream(item), pictureKey(item), findAnalysisIn(a.paths.derived, ANALYSES));
  const [node, laid] = [...nodes].find(([, one]) => one.key === key) ?? [SOURCE_NODE, source];
  const describe: WantedAnalysis<unknown>['describe'] = async () => ({
    source: await sourceRef(a, item),
    ...(node !== SOURCE_NODE && { of: { plan, node } }),
  });
  return { analysis, file: analysisFile(a.paths.derived, analysis, key), stream: laid.stream, describe };
}

/** Measures everything a plan reads that is not there yet, before it is rendered. @throws Error with what went wrong. */
export async function measureMissing(a: Archive, item: Item, plan: Plan): Promise<void> {
  const find = findAnalysisIn(a.paths.derived, ANALYSES);
  const made = new Set<string>();
  for (;;) {
    const [next] = layOut(plan, measuredStream(item), pictureKey(item), find).missing;
    if (!next) return;
    const wanted = wantedOf(a, item, plan, next);
    if (made.has(wanted.file)) throw new PlanError(`${wanted.analysis.name} was measured, and cannot be read.`);
    made.add(wanted.file);
    await analysed(wanted);
  }
}

/** How far the analyses are that steps of a proof wait for; they are begun. */
export const awaitedOf = (a: Archive, item: Item, plan: Plan, missing: MissingAnalysis[]): Promise<AwaitedAnalysis[]> =>
  Promise.all(
    missing.map(async (one) => {
      const wanted = wantedOf(a, item, plan, one);
      const { share, secondsLeft, problem } = await analysisState(wanted);
      return { step: one.step, name: wanted.analysis.name, share, secondsLeft, problem };
    }),
  );
