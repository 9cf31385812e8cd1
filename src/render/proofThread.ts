import { makeProof, makeReport, type ProofImage, type ProofRequest } from './proof';
import type { SourceRef } from './segment';

export type ProofTask = { kind: 'proof'; request: ProofRequest } | { kind: 'report'; source: SourceRef };

/** Entry of a proof thread. */
export default function run(task: ProofTask): Promise<ProofImage> | ReturnType<typeof makeReport> {
  return task.kind === 'proof' ? makeProof(task.request) : makeReport(task.source);
}
