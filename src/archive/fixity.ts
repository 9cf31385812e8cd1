import { readdir } from 'node:fs/promises';
import path from 'node:path';
import type { Knex } from 'knex';
import { sha256File } from '../media';
import { now, type Archive } from './database';
import { listDeliveries } from './deliveries';
import { pathInside } from './paths';
import type { Source } from './types';

/** Something that is kept, held against the checksum it had. */
export interface FixityResult {
  id: string;
  name: string;
  /** What is wrong with it, in words; empty when nothing is. */
  problem: string;
}

/** Days after which an original or a delivery is looked at again by itself. */
const EVERY_DAYS = 30;

async function problemOf(file: string, sha256: string): Promise<string> {
  const sum = await sha256File(file).catch((error: NodeJS.ErrnoException) => (error.code === 'ENOENT' ? 'gone' : 'unreadable'));
  if (sum === sha256) return '';
  if (sum === 'gone') return `${path.basename(file)} is gone`;
  return sum === 'unreadable' ? `${path.basename(file)} cannot be read` : `${path.basename(file)} is not what it was: its checksum differs`;
}

/** Notes when an original was checked and what was found. */
export async function noteFixity({ db }: Archive, sourceId: string, problem: string): Promise<void> {
  await db('sources').where({ id: sourceId }).update({ checked: now(), problem });
}

/** Holds an original against its checksum, and keeps what was found. */
export async function checkOriginal(a: Archive, { id, path: place, fileName, sha256 }: Source): Promise<FixityResult> {
  const problem = await problemOf(pathInside(a.paths.sources, place), sha256);
  await noteFixity(a, id, problem);
  return { id, name: fileName, problem };
}

/** Holds a delivery's files against their checksums, and keeps what was found. */
export async function checkDelivery(a: Archive, id: string): Promise<FixityResult | undefined> {
  const [delivery] = await listDeliveries(a, { id });
  if (!delivery) return undefined;
  const folder = pathInside(a.paths.deliveries, delivery.folder);
  const problems: string[] = [];
  for (const file of delivery.files) problems.push(await problemOf(path.join(folder, file.fileName), file.sha256));
  const there = await readdir(folder).catch(() => []);
  const own = new Set(delivery.files.map((f) => f.fileName));
  const problem = [...problems, ...there.filter((name) => !own.has(name)).map((name) => `${name} was added`)].filter(Boolean).join('; ');
  await a.db('deliveries').where({ id }).update({ checked: now(), problem });
  return { id, name: delivery.itemName, problem };
}

const listSources = async (rows: Knex.QueryBuilder): Promise<Source[]> =>
  await rows.select('id', 'path', 'file_name as fileName', 'sha256', 'bytes');

/** Checks all originals and deliveries; `told` hears of each as it is done. */
export async function checkAll(a: Archive, told: (result: FixityResult) => void, signal?: AbortSignal): Promise<void> {
  for (const source of await listSources(a.db('sources').orderBy('created'))) {
    if (signal?.aborted) return;
    told(await checkOriginal(a, source));
  }
  for (const { id } of await listDeliveries(a)) {
    if (signal?.aborted) return;
    const result = await checkDelivery(a, id);
    if (result) told(result);
  }
}

/** Holds the one original or delivery that was not looked at for longest against its checksums. @returns undefined when all were checked within the month. */
export async function checkNext(a: Archive, time = Date.now()): Promise<FixityResult | undefined> {
  const due = new Date(time - EVERY_DAYS * 86_400_000).toISOString();
  const stale = (table: string) =>
    a
      .db(table)
      .where((q) => void q.where('checked', '<', due).orWhere((fresh) => void fresh.whereNull('checked').where('created', '<', due)))
      .orderBy('checked');
  const [source] = await listSources(stale('sources').limit(1));
  if (source) return checkOriginal(a, source);
  const delivery = (await stale('deliveries').first()) as { id: string } | undefined;
  return delivery && checkDelivery(a, delivery.id);
}
