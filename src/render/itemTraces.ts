import { archive, type Item, itemAnalysisFile, measuredStream, tracesAnalysis, type TracesAnswer } from '../archive';
import { TRACE_KINDS, type TraceId, type Traces, tracesOf, worstPlaces } from '../core';
import { analysisState } from './analyse';
import { sourceRef } from './sourceRef';

/** Places listed of each trace, and the seconds between two of them at least. */
const MAX_LISTED = 10,
  APART_SECONDS = 0.4;

/** An item's traces as far as they are measured. */
export async function itemTraces(item: Item): Promise<TracesAnswer> {
  const a = await archive();
  const file = itemAnalysisFile(a, item, tracesAnalysis, measuredStream(item));
  const { value, share, problem, secondsLeft } = await analysisState({
    analysis: tracesAnalysis,
    file,
    stream: measuredStream(item),
    describe: async () => ({ source: await sourceRef(a, item) }),
  });
  const traces = tracesOf(value?.measures ?? []);
  const { rate } = item.facts.stream;
  const apart = (APART_SECONDS * rate.num) / Math.max(1, rate.den);
  const worst = Object.fromEntries(TRACE_KINDS.map(({ id }) => [id, worstPlaces(traces, id, MAX_LISTED, apart)])) as TracesAnswer['worst'];
  const kinds = TRACE_KINDS.filter(({ id }) => tells(traces, id));
  return { ...traces, kinds, worst, share, ...(problem && { problem }), ...(secondsLeft !== undefined && { secondsLeft }) };
}

/** Combing, in codes, of which full frames have less. */
const COMBS = 0.3;

/** Whether a trace says something of the item: some have no clear edges, and full frames do not comb. */
function tells({ values }: Traces, id: TraceId): boolean {
  const known = values[id].filter((v) => v !== null);
  return known.length > 0 && (id !== 'combing' || Math.max(...known) >= COMBS);
}
