import { kernels } from '../core/kernels/wasm';
import { lightTables, plainTables } from '../core/picture/light';
import { makeProof, makeReport, type ProofImage, type ProofRequest } from './proof';
import type { SourceRef } from './segment';

export type ProofTask = { kind: 'proof'; request: ProofRequest } | { kind: 'report'; source: SourceRef } | { kind: 'warm' };

/** Entry of a proof thread. */
export default async function run(task: ProofTask): Promise<ProofImage | Awaited<ReturnType<typeof makeReport>> | undefined> {
  if (task.kind === 'proof') return makeProof(task.request);
  if (task.kind === 'report') return makeReport(task.source);
  warmUp();
  return undefined;
}

/** What every first proof would wait for: the kernels and the tables of light. */
function warmUp(): void {
  kernels();
  plainTables();
  for (const range of ['limited', 'full'] as const) lightTables(range, range === 'full' ? 'srgb' : 'video');
}
