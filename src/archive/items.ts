import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { ScanReading } from '../core/condition/examine';
import type { ConditionReport } from '../core/condition/report';
import type { StreamInfo } from '../core/picture/picture';
import type { MediaFacts } from '../media/facts';
import { readFrameIndex, type FrameIndex } from '../media/frameIndex';
import type { Probed } from '../media/probe';
import type { Archive } from './database';
import { inside } from './paths';
import type { FoundItem, Item, ItemState } from './types';

interface ItemRow {
  id: string;
  collection_id: string;
  name: string;
  file_name: string;
  kind: 'still' | 'moving';
  source: string;
  sha256: string;
  bytes: number;
  facts: string;
  condition: string | null;
  state: ItemState;
  message: string;
  created: string;
}

function fromRow(row: ItemRow): Item {
  return {
    id: row.id,
    collectionId: row.collection_id,
    name: row.name,
    fileName: row.file_name,
    kind: row.kind,
    source: row.source,
    sha256: row.sha256,
    bytes: row.bytes,
    facts: JSON.parse(row.facts) as MediaFacts,
    condition: row.condition ? (JSON.parse(row.condition) as ConditionReport) : null,
    state: row.state,
    message: row.message,
    created: row.created,
  };
}

export async function insertItem({ db }: Archive, item: Item): Promise<void> {
  await db('items').insert({
    id: item.id,
    collection_id: item.collectionId,
    name: item.name,
    file_name: item.fileName,
    kind: item.kind,
    source: item.source,
    sha256: item.sha256,
    bytes: item.bytes,
    facts: JSON.stringify(item.facts),
    condition: item.condition && JSON.stringify(item.condition),
    state: item.state,
    message: item.message,
    created: item.created,
  });
}

export async function findItem({ db }: Archive, id: string): Promise<Item | undefined> {
  const row = (await db('items').where({ id }).first()) as ItemRow | undefined;
  return row && fromRow(row);
}

export async function findBySum({ db }: Archive, collectionId: string, sha256: string): Promise<Item | undefined> {
  const row = (await db('items').where({ collection_id: collectionId, sha256 }).first()) as ItemRow | undefined;
  return row && fromRow(row);
}

export async function listItems({ db }: Archive, collectionId: string): Promise<Item[]> {
  const rows = (await db('items')
    .where({ collection_id: collectionId })
    .orderBy([{ column: 'created' }, { column: 'id' }])) as ItemRow[];
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

/** Items whose examination a crash cut short. */
export async function unexamined({ db }: Archive): Promise<string[]> {
  return (await db('items').where({ state: 'examining' }).orderBy('created').pluck('id')) as string[];
}

export const sourcePath = ({ paths }: Archive, item: Item): string => inside(paths.sources, item.source);

export const thumbnailPath = ({ paths }: Archive, item: Item): string => path.join(paths.derived, `${item.id}.jpg`);

export const tracesPath = ({ paths }: Archive, item: Item): string => path.join(paths.derived, `${item.id}.traces.json`);

const indexPath = ({ paths }: Archive, item: Item): string => path.join(paths.derived, `${item.id}.frames.json`);

interface StoredIndex extends Omit<FrameIndex, 'times' | 'keys' | 'map'> {
  times: number[];
  keys: number[];
  map?: number[];
}

/** The frame index as it is kept on disk. */
export function indexJson(index: FrameIndex): string {
  const stored: StoredIndex = { ...index, times: [...index.times], keys: [...index.keys], map: index.map && [...index.map] };
  return JSON.stringify(stored);
}

export { indexPath };

/** Facts and frame times of an item; the times are read again from the source when their file was lost. */
export async function probedItem(a: Archive, item: Item): Promise<Probed> {
  if (item.kind === 'still') return { facts: item.facts };
  let index: FrameIndex;
  try {
    const stored = JSON.parse(await readFile(indexPath(a, item), 'utf8')) as StoredIndex;
    index = {
      ...stored,
      times: Float64Array.from(stored.times),
      keys: Float64Array.from(stored.keys),
      map: stored.map && Int32Array.from(stored.map),
    };
  } catch {
    index = await readFrameIndex(sourcePath(a, item), item.facts.timeBase ?? '1/1000', [item.facts.stream.rate]);
  }
  return { facts: item.facts, index };
}

/** The item's stream as it was measured to be, where that is surer than its tags. */
export function measuredStream(item: Item): StreamInfo {
  return withMeasured(item.facts.stream, item.condition?.measurements);
}

export function withMeasured(stream: StreamInfo, m: ScanReading | undefined): StreamInfo {
  if (!m || m.scan === 'still' || m.scan === 'unknown' || m.scanConfidence < 0.6) return stream;
  return { ...stream, fieldOrder: m.scan === 'progressive' ? 'progressive' : m.fieldOrder };
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
