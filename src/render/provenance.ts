import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { type Collection, type Deliverable, type Item, type Job, measuredStream } from '../archive';
import { applicationRoot, layOut, networkCard, networksOf, readyStep, type StreamInfo } from '../core';
import type { About } from '../shared/about';
import { stepsOn, type Plan } from '../shared/plan';
import { runTool } from '../media';

/** The record of what was done to an item, by what, with which settings. */
export interface ProvenanceRecord {
  format: 'wairetic-provenance';
  version: 1;
  created: string;
  program: { name: string; version: string; decoder: string };
  collection: string;
  item: string;
  /** What people told of it. */
  about: About;
  source: { fileName: string; bytes: number; sha256: string; facts: Item['facts'] };
  condition: Item['condition'];
  planVersion: number;
  plan: Job['plan'];
  /** Versions of the treatments' computations, by the step. */
  treatments: { step: string; treatment: string; version: number }[];
  /** The trained networks that were used, by the step that used them. */
  networks: { step: string; name: string; sha256: string }[];
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
    about: item.about,
    source: { fileName: item.source.fileName, bytes: item.source.bytes, sha256: item.source.sha256, facts: item.facts },
    condition: item.condition,
    planVersion: job.planVersion,
    plan: job.plan,
    treatments: stepsOn(job.plan)
      .map(readyStep)
      .map(({ id, treatment }) => ({ step: id, treatment: treatment.id, version: treatment.version })),
    networks: networksUsed(job.plan, measuredStream(item)),
    notes,
    files,
  };
}

/** Networks of a plan's steps, with the checksums of their files. */
export function networksUsed(plan: Plan, source: StreamInfo): ProvenanceRecord['networks'] {
  return [...networksOf(layOut(plan, source))].flatMap(([step, names]) =>
    names.map((name) => ({ step, name, sha256: networkCard(name).sha256 })),
  );
}

/** The program and its version, as metadata says it. */
export const programName = async (): Promise<string> => `Wairetic ${await programVersion()}`;

async function programVersion(): Promise<string> {
  const file = path.join(/* turbopackIgnore: true */ applicationRoot(), 'package.json');
  return (JSON.parse(await readFile(file, 'utf8')) as { version: string }).version;
}

async function decoderVersion(): Promise<string> {
  const { stdout } = await runTool('ffmpeg', ['-hide_banner', '-version']);
  return /^ffmpeg version \S+/.exec(stdout.toString())?.[0] ?? 'ffmpeg';
}
