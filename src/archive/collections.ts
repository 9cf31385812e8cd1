import { randomUUID } from 'node:crypto';
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

export async function listCollections({ db }: Archive): Promise<CollectionSummary[]> {
  const rows = (await db('collections as c')
    .select('c.*')
    .select(
      db('items').count('*').whereRaw('collection_id = c.id').as('items'),
      db('items').count('*').whereRaw('collection_id = c.id').whereIn('id', db('deliveries').select('item_id')).as('delivered'),
    )
    .orderBy([{ column: 'c.created' }, { column: 'c.name' }])) as CollectionSummary[];
  return rows;
}

export async function findCollection({ db }: Archive, id: string): Promise<Collection | undefined> {
  return (await db('collections').where({ id }).first()) as Collection | undefined;
}
