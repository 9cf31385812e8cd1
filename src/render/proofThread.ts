import { type LaidAnswer, paintDocument } from '../archive';
import type { Stroke } from '../shared/masks/brush';
import { type AlikePlace, type Failure, failureOf, kernels, lightTables, type Pace, plainTables, useNetworkThreads } from '../core';
import { type AlikeRequest, findAlike } from './alikeElsewhere';
import { coarseProof } from './coarseProof';
import { layFile, type LayFileRequest } from './layFile';
import { measurePace } from './pace';
import { makeProof, type ProofImage, type ProofRequest } from './proof';

export type ProofTask =
  | { kind: 'proof'; request: ProofRequest }
  /** A first look at a picture much reduced. */
  | { kind: 'coarse'; request: ProofRequest }
  /** `networkThreads` is how many threads the networks of this thread may use from now on. */
  | { kind: 'warm'; networkThreads: number }
  | { kind: 'pace' }
  /** Paints strokes, in pixels of the source, on a document of a folder of marks. */
  | { kind: 'paint'; folder: string; base: string | undefined; size: { width: number; height: number }; strokes: Stroke[] }
  | { kind: 'alike'; request: AlikeRequest }
  /** Keeps a picture from a file. */
  | { kind: 'lay'; request: LayFileRequest };

export type ProofTaskResult = ProofImage | Pace | string | AlikePlace[] | LaidAnswer | Failure | undefined;

/** Entry of a proof thread. */
export default async function run(task: ProofTask): Promise<ProofTaskResult> {
  try {
    if (task.kind === 'proof') return await makeProof(task.request);
    if (task.kind === 'coarse') return await coarseProof(task.request);
    if (task.kind === 'pace') return await measurePace();
    if (task.kind === 'paint') return await paintDocument(task.folder, task.base, task.size, task.strokes);
    if (task.kind === 'alike') return await findAlike(task.request);
    if (task.kind === 'lay') return await layFile(task.request);
    useNetworkThreads(task.networkThreads);
    warmUp();
    return undefined;
  } catch (error) {
    return failureOf(error);
  }
}

/** What every first proof would wait for: the kernels and the tables of light. */
function warmUp(): void {
  kernels();
  plainTables();
  for (const range of ['limited', 'full'] as const) lightTables(range, range === 'full' ? 'srgb' : 'video');
}
