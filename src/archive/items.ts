import { existsSync } from 'node:fs';
import path from 'node:path';
import { LRUCache } from 'lru-cache';
import type { Knex } from 'knex';
import { type ConditionReport, layOut, type StreamInfo } from '../core';
import { type FrameIndex, type MediaFacts, partKey, type Probed } from '../media';
import type { ExaminedAnswer } from './answers';
import type { Archive } from './database';
import type { Analysis } from './analyses/analysis';
import { frameTimes, readFrameTimes } from './analyses/frameTimes';
import { analysisFile, keepAnalysis, readAnalysis } from './analyses/kept';
import { withMeasured } from './measured';
import { type About, NOTHING_TOLD } from '../shared/about';
import { emptyPlan } from '../shared/plan';
import { pathInside } from './paths';
import type { FoundItem, Item, ItemState } from './types';

/** A row of items with its source's. */
interface ItemRow {
  id: string;
  collection_id: string;
  name: string;
  kind: 'still' | 'moving';
  facts: string;
  condition: string | null;
  about: string;
  state: ItemState;
  message: string;
  created: string;
  source_id: string;
  path: string;
  file_name: string;
  sha256: string;
  bytes: number;
}

const fromRow = (row: ItemRow): Item => ({
  id: row.id,
  collectionId: row.collection_id,
  name: row.name,
  source: { id: row.source_id, path: row.path, fileName: row.file_name, sha256: row.sha256, bytes: row.bytes },
  kind: row.kind,
  facts: JSON.parse(row.facts) as MediaFacts,
  condition: row.condition ? (JSON.parse(row.condition) as ConditionReport) : null,
  about: { ...NOTHING_TOLD, ...(JSON.parse(row.about) as Partial<About>) },
  state: row.state,
  message: row.message,
  created: row.created,
});

const joined = (db: Knex): Knex.QueryBuilder =>
  db('items as i').join('sources as s', 's.id', 'i.source_id').select('i.*', 's.path', 's.file_name', 's.sha256', 's.bytes');

/** What is kept of an item beside its source. */
const columnsOf = (item: Item): Record<string, unknown> => ({
  name: item.name,
  kind: item.kind,
  part: JSON.stringify(item.facts.part ?? {}),
  facts: JSON.stringify(item.facts),
  condition: item.condition && JSON.stringify(item.condition),
  about: JSON.stringify(item.about),
  state: item.state,
  message: item.message,
});

/** Adds an item of a source that is known already. */
export async function insertItem(db: Knex, item: Item): Promise<void> {
  const { id, collectionId, source, created } = item;
  await db('items').insert({ id, collection_id: collectionId, source_id: source.id, created, ...columnsOf(item) });
}

/** Keeps what an item has become: another part of its source, another name. */
export async function updateItem(db: Knex, item: Item): Promise<void> {
  await db('items').where({ id: item.id }).update(columnsOf(item));
}

export async function findItem({ db }: Archive, id: string): Promise<Item | undefined> {
  const row = (await joined(db).where('i.id', id).first()) as ItemRow | undefined;
  return row && fromRow(row);
}

/** The first item of a file in a collection. */
export const findBySum = ({ db }: Archive, collectionId: string, sha256: string): Promise<Item | undefined> =>
  itemOfSum(db, collectionId, sha256);

/** The first item of a file, by its checksum, in a collection, as a transaction sees it. @returns undefined when the collection has none. */
export async function itemOfSum(db: Knex, collectionId: string, sha256: string): Promise<Item | undefined> {
  const row = (await joined(db).where({ collection_id: collectionId, sha256 }).orderBy('i.created').first()) as ItemRow | undefined;
  return row && fromRow(row);
}

export async function listItems({ db }: Archive, collectionId: string): Promise<Item[]> {
  const rows = (await joined(db)
    .where({ collection_id: collectionId })
    .orderBy([{ column: 'i.created' }, { column: 'i.rowid' }])) as ItemRow[];
  return rows.map(fromRow);
}

export async function saveCondition({ db }: Archive, id: string, condition: ConditionReport): Promise<void> {
  await db('items')
    .where({ id })
    .update({ condition: JSON.stringify(condition), state: 'ready', message: '' });
}

export async function markItem({ db }: Archive, id: string, state: ItemState, message: string): Promise<void> {
  await db('items').where({ id }).update({ state, message });
}

/** Keeps what is told of an item. */
export async function saveAbout({ db }: Archive, id: string, about: About): Promise<void> {
  await db('items')
    .where({ id })
    .update({ about: JSON.stringify(about) });
}

/** Items whose examination a crash cut short. */
export async function unexamined({ db }: Archive): Promise<string[]> {
  return (await db('items').where({ state: 'examining' }).orderBy('created').pluck('id')) as string[];
}

export const sourcePath = ({ paths }: Archive, item: Item): string => pathInside(paths.sources, item.source.path);

export const thumbnailPath = ({ paths }: Archive, item: Item): string => path.join(paths.derived, `${item.id}.jpg`);

/** Of items that are not examined yet, or could not be, those whose thumbnail is there, by id. */
export const picturedItems = (a: Archive, items: Item[]): string[] =>
  items.filter((item) => item.state !== 'ready' && existsSync(thumbnailPath(a, item))).map(({ id }) => id);

/** Items that are being examined or wait for it, the next first. */
export async function underExamination({ db }: Archive): Promise<ExaminedAnswer[]> {
  const items = db('items as i').join('collections as c', 'c.id', 'i.collection_id').where('i.state', 'examining');
  return items.orderBy('i.created').select<ExaminedAnswer[]>('i.id', 'i.name', { collectionName: 'c.name' });
}

/** Names the node of an item's own pictures, under which what is measured of it is kept. @param info as its tags say, or as it was measured. */
export const sourceNodeKey = (item: Item, info = item.facts.stream): string => layOut(emptyPlan(), info, pictureKey(item)).source.key;

/** Where an analysis of an item's own pictures is kept. */
export const itemAnalysisFile = <T>({ paths }: Archive, item: Item, analysis: Analysis<T>, info?: StreamInfo): string =>
  analysisFile(paths.derived, analysis, sourceNodeKey(item, info));

/** Keeps when an item's frames are shown. */
export const keepFrameTimes = (a: Archive, item: Item, value: FrameIndex): Promise<void> =>
  keepAnalysis(itemAnalysisFile(a, item, frameTimes), frameTimes, { value, share: 1 });

/** Facts and frame times of an item; the times are read again from the source when their file was lost. */
export async function probedItem(a: Archive, item: Item): Promise<Probed> {
  if (item.kind === 'still') return { facts: item.facts };
  const file = itemAnalysisFile(a, item, frameTimes);
  const index = heldTimes.get(file) ?? (await timesOf(a, item, file));
  heldTimes.set(file, index);
  return { facts: item.facts, index };
}

/** Frame times of films that were looked at last: those of a long tape take some hundredths of a second to read. */
const heldTimes = new LRUCache<string, FrameIndex>({ max: 20 });

async function timesOf(a: Archive, item: Item, file: string): Promise<FrameIndex> {
  const kept = await readAnalysis(file, frameTimes);
  if (kept) return kept.value;
  const index = await readFrameTimes({ path: sourcePath(a, item), facts: item.facts });
  await keepFrameTimes(a, item, index);
  return index;
}

/** Names an item's pictures among all others: its file, and the part of it that it is. */
export const pictureKey = ({ source, facts }: Item): string => `${source.sha256}${partKey(facts.part)}`;

/** The item's stream as it was measured to be, where that is surer than its tags. */
export function measuredStream(item: Item): StreamInfo {
  return withMeasured(item.facts.stream, item.condition?.measurements);
}

/** Items told of a search. */
const FOUND = 40;

/** Items whose name holds every word, by name. */
export async function findByName({ db }: Archive, words: string): Promise<FoundItem[]> {
  const query = db('items as i').join('collections as c', 'c.id', 'i.collection_id');
  for (const word of words.split(/\s+/).filter(Boolean)) {
    // What the search language would read as a wildcard stands for itself.
    const literal = word.replace(/[\\%_]/g, '\\$&');
    void query.whereRaw("i.name like ? escape '\\'", [`%${literal}%`]);
  }
  return await query.orderBy('i.name').limit(FOUND).select<FoundItem[]>('i.id', 'i.name', 'c.name as collection');
}
