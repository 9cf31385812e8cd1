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
import { layOut, type MissingAnalysis, PlanError, SOURCE_NODE, type StreamInfo } from '../core';
import type { Plan } from '../shared/plan';
import { analysed, analysisState, type WantedAnalysis } from './analyse';
import type { SourceRef } from './segment';
import { sourceRef } from './sourceRef';

/** A source whose plans are measured for: how it is opened, its stream and key, and the folder that what is measured is kept in. */
interface MeasuredSource {
  describe: () => Promise<SourceRef>;
  info: StreamInfo;
  key: string;
  derived: string;
}

const sourceOf = (a: Archive, item: Item): MeasuredSource => ({
  describe: () => sourceRef(a, item),
  info: measuredStream(item),
  key: pictureKey(item),
  derived: a.paths.derived,
});

/** What a step of a plan reads and is not there. @throws PlanError of an analysis nobody knows. */
function wantedOf({ describe, info, key, derived }: MeasuredSource, plan: Plan, missing: MissingAnalysis): WantedAnalysis<unknown> {
  const analysis = analysisOf(missing.analysis);
  if (!analysis) throw new PlanError(`Nothing is known of an analysis "${missing.analysis}".`);
  const { nodes, source } = layOut(plan, info, key, findAnalysisIn(derived, ANALYSES));
  const [node, laid] = [...nodes].find(([, one]) => one.key === missing.key) ?? [SOURCE_NODE, source];
  const described: WantedAnalysis<unknown>['describe'] = async () => ({
    source: await describe(),
    ...(node !== SOURCE_NODE && { of: { plan, node } }),
  });
  return { analysis, file: analysisFile(derived, analysis, missing.key), stream: laid.stream, describe: described };
}

/** Measures everything a plan reads that is not there yet, before it is rendered. @throws Error with what went wrong. */
export const measureMissing = (a: Archive, item: Item, plan: Plan): Promise<void> => measureFor(sourceOf(a, item), plan);

/** Measures everything a plan reads of a source that is not there yet, in an archive or outside of one. */
export async function measureFor(source: MeasuredSource, plan: Plan): Promise<void> {
  const find = findAnalysisIn(source.derived, ANALYSES);
  const made = new Set<string>();
  for (;;) {
    const [next] = layOut(plan, source.info, source.key, find).missing;
    if (!next) return;
    const wanted = wantedOf(source, plan, next);
    if (made.has(wanted.file)) throw new PlanError(`${wanted.analysis.name} was measured, and cannot be read.`);
    made.add(wanted.file);
    await analysed(wanted);
  }
}

/** How far the analyses are that steps of a proof wait for; they are begun. */
export const awaitedOf = (a: Archive, item: Item, plan: Plan, missing: MissingAnalysis[]): Promise<AwaitedAnalysis[]> =>
  Promise.all(
    missing.map(async (one) => {
      const wanted = wantedOf(sourceOf(a, item), plan, one);
      const { share, secondsLeft, problem } = await analysisState(wanted);
      return { step: one.step, name: wanted.analysis.name, share, secondsLeft, problem };
    }),
  );
