import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Collection, Deliverable, Item, Job } from '../archive/types';
import { applicationRoot } from '../core/kernels/wasm';
import { runTool } from '../media/tools';

/** The record of what was done to an item, by what, with which settings. */
export interface ProvenanceRecord {
  format: 'wairetic-provenance';
  version: 1;
  created: string;
  program: { name: string; version: string; decoder: string };
  collection: string;
  item: string;
  source: { fileName: string; bytes: number; sha256: string; facts: Item['facts'] };
  condition: Item['condition'];
  planVersion: number;
  plan: Job['plan'];
  notes: string[];
  files: Deliverable[];
}

export async function provenanceRecord(
  job: Job,
  item: Item,
  collection: Collection,
  files: Deliverable[],
  notes: string[],
): Promise<ProvenanceRecord> {
  return {
    format: 'wairetic-provenance',
    version: 1,
    created: new Date().toISOString(),
    program: { name: 'Wairetic', version: await programVersion(), decoder: await decoderVersion() },
    collection: collection.name,
    item: item.name,
    source: { fileName: item.fileName, bytes: item.bytes, sha256: item.sha256, facts: item.facts },
    condition: item.condition,
    planVersion: job.planVersion,
    plan: job.plan,
    notes,
    files,
  };
}

async function programVersion(): Promise<string> {
  const file = path.join(/* turbopackIgnore: true */ applicationRoot(), 'package.json');
  return (JSON.parse(await readFile(file, 'utf8')) as { version: string }).version;
}

async function decoderVersion(): Promise<string> {
  const { stdout } = await runTool('ffmpeg', ['-hide_banner', '-version']);
  return /^ffmpeg version \S+/.exec(stdout.toString())?.[0] ?? 'ffmpeg';
}
