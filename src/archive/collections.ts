import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { now, type Archive } from './database';
import type { Collection, CollectionSummary } from './types';

export async function createCollection({ db }: Archive, given: { name: string; note?: string; due?: string | null }): Promise<Collection> {
  const row: Collection = {
    id: randomUUID(),
    name: given.name.trim(),
    note: given.note?.trim() ?? '',
    due: given.due ?? null,
    created: now(),
  };
  await db('collections').insert(row);
  return row;
}

/** Pictures that show what a collection holds, and faces that show who is in it, at most. */
const SHOWN = 10;

/** All collections, with what they hold and what is left to do. */
export async function listCollections({ db }: Archive): Promise<CollectionSummary[]> {
  const [rows, shown, faces] = await Promise.all([summaries(db), someItems(db), facesOfPersons(db)]);
  return rows.map((row) => ({ ...row, shown: shown.get(row.id) ?? [], faces: faces.get(row.id) ?? [] }));
}

const summaries = (db: Knex): Promise<Omit<CollectionSummary, 'shown' | 'faces'>[]> =>
  db('collections as c')
    .select('c.*')
    .select(
      db('items').count('*').whereRaw('collection_id = c.id').as('items'),
      db('items').count('*').whereRaw('collection_id = c.id').whereIn('id', db('deliveries').select('item_id')).as('delivered'),
      db('persons').count('*').whereRaw('collection_id = c.id').as('people'),
    )
    .orderBy([{ column: 'c.created' }, { column: 'c.name' }]);

/** Items of each collection that can be shown, from all of it alike. */
async function someItems(db: Knex): Promise<Map<string, CollectionSummary['shown']>> {
  const ranked = db('items')
    .where({ state: 'ready' })
    .select('id', 'name', 'collection_id', db.raw('count(*) over (partition by collection_id) as all_of_them'))
    .rowNumber('rank', (by) => void by.partitionBy('collection_id').orderBy([{ column: 'created' }, { column: 'rowid' }]));
  const spread = db.from(ranked.as('r')).whereRaw(`rank * ${SHOWN} / all_of_them > (rank - 1) * ${SHOWN} / all_of_them`);
  return byCollection((await spread.orderBy('rank')) as Shown[], ({ id, name }) => ({ id, name }));
}

/** The largest face of each person, those of each collection first who are seen most often. */
async function facesOfPersons(db: Knex): Promise<Map<string, string[]>> {
  const largest = db('appearances as a')
    .join('persons as p', 'p.id', 'a.person_id')
    .select('a.id', 'p.collection_id', 'p.id as person')
    .select(db.raw('count(*) over (partition by p.id) as seen'))
    .rowNumber('size', (by) => void by.partitionBy('p.id').orderBy([{ column: 'a.pixels', order: 'desc' }, { column: 'a.id' }]));
  const ranked = db
    .from(largest.as('l'))
    .where('size', 1)
    .select('id', 'collection_id')
    .rowNumber('rank', (by) => void by.partitionBy('collection_id').orderBy([{ column: 'seen', order: 'desc' }, { column: 'person' }]));
  return byCollection((await db.from(ranked.as('r')).where('rank', '<=', SHOWN).orderBy('rank')) as Ranked[], ({ id }) => id);
}

interface Ranked {
  id: string;
  collection_id: string;
}
interface Shown extends Ranked {
  name: string;
}

function byCollection<Row extends Ranked, T>(rows: readonly Row[], told: (row: Row) => T): Map<string, T[]> {
  const all = new Map<string, T[]>();
  for (const row of rows) all.set(row.collection_id, [...(all.get(row.collection_id) ?? []), told(row)]);
  return all;
}

export async function findCollection({ db }: Archive, id: string): Promise<Collection | undefined> {
  return (await db('collections').where({ id }).first()) as Collection | undefined;
}
