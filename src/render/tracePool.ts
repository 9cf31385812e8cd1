import { readFile } from 'node:fs/promises';
import type { Piscina } from 'piscina';
import { archive, type Archive } from '../archive/database';
import { tracesPath } from '../archive/items';
import type { Item, TracesAnswer } from '../archive/types';
import { TRACE_KINDS, tracesOf, worstPlaces, type TraceId, type Traces } from '../core/condition/traces';
import { runTask, threadPool } from './pool';
import type { ProofTask } from './proofThread';
import { sourceRef } from './proofPool';
import type { KeptTraces } from './traces';

/** Places listed of each trace, and the seconds between two of them at least. */
const LISTED = 10,
  APART = 0.4;

interface Tracing {
  pool: Piscina;
  /** Items that are measured or wait for it. */
  running: Set<string>;
  problems: Map<string, string>;
}

declare global {
  var waireticTracing: Tracing | undefined;
}

function tracing(): Tracing {
  globalThis.waireticTracing ??= { pool: threadPool('proof-thread', 1), running: new Set(), problems: new Map() };
  return globalThis.waireticTracing;
}

async function readKept(a: Archive, item: Item): Promise<KeptTraces | undefined> {
  try {
    return JSON.parse(await readFile(tracesPath(a, item), 'utf8')) as KeptTraces;
  } catch {
    return undefined;
  }
}

/** An item's traces; their measuring is begun, or taken up where a restart cut it short. */
export async function traceItem(item: Item): Promise<TracesAnswer> {
  const a = await archive();
  const kept = await readKept(a, item);
  const { running, problems } = tracing();
  const done = kept !== undefined && kept.measures.length >= kept.total;
  if (!done && !running.has(item.id) && !problems.has(item.id)) void start(a, item, kept);
  const problem = problems.get(item.id);
  const traces = tracesOf(kept?.measures ?? []);
  const { rate, frames } = item.facts.stream;
  const apart = (APART * rate.num) / Math.max(1, rate.den);
  const worst = Object.fromEntries(TRACE_KINDS.map(({ id }) => [id, worstPlaces(traces, id, LISTED, apart)])) as TracesAnswer['worst'];
  const kinds = TRACE_KINDS.filter(({ id }) => tells(traces, id));
  return { ...traces, kinds, worst, total: kept?.total ?? frames, ...(problem && { problem }) };
}

/** Combing, in codes, of which full frames have less. */
const COMBS = 0.3;

/** Whether a trace says something of the item: some have no clear edges, and full frames do not comb. */
function tells({ values }: Traces, id: TraceId): boolean {
  const known = values[id].filter((v) => v !== null);
  return known.length > 0 && (id !== 'combing' || Math.max(...known) >= COMBS);
}

async function start(a: Archive, item: Item, kept: KeptTraces | undefined): Promise<void> {
  const { pool, running, problems } = tracing();
  running.add(item.id);
  try {
    const task: ProofTask = { kind: 'traces', source: await sourceRef(a, item), file: tracesPath(a, item), have: kept?.measures ?? [] };
    await runTask(pool, task);
  } catch (error) {
    problems.set(item.id, (error as Error).message);
  } finally {
    running.delete(item.id);
  }
}
