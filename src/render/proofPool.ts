import { readFile, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { LRUCache } from 'lru-cache';
import type { Piscina } from 'piscina';
import {
  archive,
  type AwaitedAnalysis,
  currentPlan,
  filmColoursAnalysis,
  type Item,
  itemAnalysisFile,
  type LaidAnswer,
  measuredStream,
} from '../archive';
import { type AlikePlace, networkCard, type NetworkName, networkNames, outputStream, type Pace } from '../core';
import type { Stroke } from '../shared/masks/brush';
import { emptyPlan } from '../shared/plan';
import type { LayFileRequest } from './layFile';
import { runTask, threadCount, threadPool } from './pool';
import type { ProofImage, ProofRequest } from './proof';
import type { ProofTask } from './proofThread';
import { awaitedOf } from './planAnalyses';
import { sourceRef } from './sourceRef';
import type { ProofLane, ProofQuery } from '../shared/requests';

/** What waits for one another: sources, the picture in the middle of the bench, and the ladder's patches. */

interface Lanes extends Record<ProofLane, Piscina> {
  /** Source frames, which must not wait for results. */
  source: Piscina;
  /** The picture in the middle of the bench. */
  picture: Piscina;
  /** The ladder's patches. */
  side: Piscina;
  /** Hand work, which must not wait for pictures. */
  hand: Piscina;
  /** Newest query of each viewer, shared with the threads. */
  turns: LRUCache<string, SharedArrayBuffer>;
  /** This machine's pace, once measured. */
  pace?: Pace;
}

/** Viewers remembered; the one longest away is forgotten. */
const VIEWERS = 200;

declare global {
  var waireticLanes: Lanes | undefined;
}

function lanes(): Lanes {
  globalThis.waireticLanes ??= {
    source: threadPool('proof-thread', 1),
    picture: threadPool('proof-thread', 1),
    side: threadPool('proof-thread', 1),
    hand: threadPool('proof-thread', 1),
    turns: new LRUCache({ max: VIEWERS }),
  };
  return globalThis.waireticLanes;
}

function turnOf(viewer: string): SharedArrayBuffer {
  const { turns } = lanes();
  let shared = turns.get(viewer);
  if (!shared) turns.set(viewer, (shared = new SharedArrayBuffer(4)));
  return shared;
}

/** Number of no query. */
const NOBODY = -1;

/**
 * A proof of an item.
 * @param gone aborts when whoever asked has left.
 * @throws an error with the code `cancelled` when a newer query came, or nobody waits any more.
 */
export async function proofItem(item: Item, query: ProofQuery, gone?: AbortSignal): Promise<ProofImage & { awaited: AwaitedAnalysis[] }> {
  const a = await archive();
  const { lane } = query;
  const proof = await runTask<ProofImage>(lanes()[lane], {
    kind: 'proof',
    request: await requestOf(item, query, gone),
  } satisfies ProofTask);
  return { ...proof, awaited: await awaitedOf(a, item, query.plan, proof.missing) };
}

/** A first look at a still's result, where the screen shows it much reduced; undefined where there is none. @throws as `proofItem`. */
export async function coarseLook(
  item: Item,
  query: ProofQuery,
  gone?: AbortSignal,
): Promise<(ProofImage & { awaited: AwaitedAnalysis[] }) | undefined> {
  const task: ProofTask = { kind: 'coarse', request: await requestOf(item, query, gone) };
  const look = await runTask<ProofImage | undefined>(lanes()[query.lane], task);
  return look && { ...look, awaited: [] };
}

async function requestOf(item: Item, query: ProofQuery, gone?: AbortSignal): Promise<ProofRequest> {
  const { viewer, lane, turn: number, ...look } = query;
  const a = await archive();
  const shared = turnOf(`${viewer}/${lane}`);
  const turn = new Int32Array(shared);
  Atomics.store(turn, 0, number);
  gone?.addEventListener('abort', () => void Atomics.compareExchange(turn, 0, number, NOBODY), { once: true });
  return { ...look, source: await sourceRef(a, item), turn: { shared, number } };
}

/**
 * Paints strokes on a mask of an item, off the thread that answers requests.
 * @param strokes in fractions of the source, their size as a share of its height.
 * @returns the new document's SHA-256.
 */
export async function paintItem(item: Item, base: string | undefined, strokes: Stroke[]): Promise<string> {
  const { width, height } = measuredStream(item);
  const inPixels = strokes.map((s) => ({
    ...s,
    size: s.size * height,
    points: s.points.map((p) => ({ ...p, x: p.x * width, y: p.y * height })),
  }));
  const folder = (await archive()).paths.marks;
  return runTask<string>(lanes().hand, { kind: 'paint', folder, base, size: { width, height }, strokes: inPixels } satisfies ProofTask);
}

/**
 * Where other shots of a film show what a mark is on, found off the thread that answers requests.
 * @returns undefined until the film is measured.
 */
export async function alikeElsewhere(item: Item, list: string, mark: string): Promise<AlikePlace[] | undefined> {
  const a = await archive();
  const file = itemAnalysisFile(a, item, filmColoursAnalysis, measuredStream(item));
  const request = { file, folder: a.paths.marks, list, mark };
  return runTask<AlikePlace[] | undefined>(lanes().hand, { kind: 'alike', request } satisfies ProofTask);
}

/** Keeps a picture from a file, read off the thread that answers requests. @throws MediaError where it is none. */
export const layFile = (request: LayFileRequest): Promise<LaidAnswer> =>
  runTask<LaidAnswer>(lanes().hand, { kind: 'lay', request } satisfies ProofTask);

/** Size a picture that is opened ahead is answered in: nobody sees it. */
const AHEAD_SIZE = { width: 16, height: 16 };

/** The part that is made ahead of a result: enough that all its frames are decoded, and little to compute. */
const AHEAD_PART = { x: 0.45, y: 0.45, width: 0.1, height: 0.1 };

/** Has an item's source open, the frame it is opened at decoded and a first look at its plan made, before anybody looks at it. */
export async function openAhead(item: Item): Promise<void> {
  const stream = measuredStream(item);
  const query = { fit: AHEAD_SIZE, viewer: `ahead ${item.id}`, turn: 1 };
  const whole = { x: 0, y: 0, width: 1, height: 1 };
  const frame = Math.floor(stream.frames / 2);
  const source = proofItem(item, { ...query, plan: emptyPlan(), frame, region: whole, node: 'source', lane: 'source' });
  const plan = (await currentPlan(await archive(), item.id))?.plan;
  if (plan) {
    const middle = Math.floor(outputStream(plan, stream).frames / 2);
    await proofItem(item, { ...query, plan, frame: middle, region: AHEAD_PART, draft: true, lane: 'picture' });
  }
  await source;
}

/** Starts the proof threads, has them ready for the first query, and learns this machine's pace. */
export function warmProofs(): void {
  const all = lanes();
  const warm = (lane: ProofLane, networkThreads: number): Promise<unknown> => all[lane].run({ kind: 'warm', networkThreads });
  // The picture in the middle is waited for: its networks get all cores.
  void warm('picture', threadCount()).catch(failed);
  void warm('source', 1).catch(failed);
  void warm('side', 1).then(learnPace).catch(failed);
}

const failed = (error: Error): void => console.error(`proof thread: ${error.message}`);

/** Measured once on a machine for each set of networks, and kept with the archive. */
async function learnPace(): Promise<void> {
  const file = path.join((await archive()).paths.root, 'pace.json');
  const machine = `${os.cpus()[0]?.model} x ${os.cpus().length}, ${networkNames().map(hashOf).join(' ')}`;
  const kept = await readFile(file, 'utf8').then(
    (text) => JSON.parse(text) as { machine: string; pace: Pace },
    () => undefined,
  );
  if (kept?.machine === machine) {
    lanes().pace = kept.pace;
    return;
  }
  const pace = await runTask<Pace>(lanes().side, { kind: 'pace' });
  lanes().pace = pace;
  await writeFile(file, JSON.stringify({ machine, pace }, null, 1));
}

const hashOf = (name: NetworkName): string => {
  try {
    return networkCard(name).sha256.slice(0, 8);
  } catch {
    return 'missing';
  }
};

/** How fast this machine is, once it is known. */
export function machinePace(): { pace: Pace; cores: number } | undefined {
  const { pace } = lanes();
  return pace && { pace, cores: threadCount() };
}
