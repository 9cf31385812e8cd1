import type { Knex } from 'knex';
import { type Archive, inTransaction, now } from '../database';

/** What was told of a collection's people can be taken back, change by change. */

/** Changes that can be taken back at most. */
const MOST = 100;

/** All that people told, and how faces lay with persons, before a change. */
interface Snapshot {
  persons: Record<string, unknown>[];
  faces: { id: string; person_id: string | null; told: number; state: string }[];
  answers: { a: string; b: string; said: string }[];
}

const faceIds = (db: Knex, collectionId: string): Knex.QueryBuilder =>
  db('appearances').join('items', 'items.id', 'appearances.item_id').where('items.collection_id', collectionId).select('appearances.id');

async function snapshotOf(db: Knex, collectionId: string): Promise<Snapshot> {
  return {
    persons: (await db('persons').where({ collection_id: collectionId }).orderBy('rowid')) as Snapshot['persons'],
    faces: await db('appearances').whereIn('id', faceIds(db, collectionId)).select<Snapshot['faces']>('id', 'person_id', 'told', 'state'),
    answers: (await db('likeness_answers').whereIn('a', faceIds(db, collectionId))) as Snapshot['answers'],
  };
}

/** Does something to a collection's people that can be taken back. @param words what was done, as the button says that takes it back. */
export async function changePeople<T>(
  { db }: Archive,
  collectionId: string,
  words: string,
  work: (trx: Knex.Transaction) => Promise<T>,
): Promise<T> {
  return inTransaction(db, async (trx) => {
    const before = JSON.stringify(await snapshotOf(trx, collectionId));
    const result = await work(trx);
    await trx('people_changes').insert({ collection_id: collectionId, words, before, created: now() });
    const kept = trx('people_changes').where({ collection_id: collectionId }).orderBy('id', 'desc').limit(MOST).select('id');
    await trx('people_changes').where({ collection_id: collectionId }).whereNotIn('id', kept).delete();
    return result;
  });
}

/** What the last change was that can be taken back; undefined where there is none. */
export async function lastPeopleChange({ db }: Archive, collectionId: string): Promise<string | undefined> {
  const row = await db('people_changes')
    .where({ collection_id: collectionId })
    .orderBy('id', 'desc')
    .first<{ words: string } | undefined>('words');
  return row?.words;
}

/** Takes the last change back. @returns what it was; undefined where there is none. */
export async function undoPeople({ db }: Archive, collectionId: string): Promise<string | undefined> {
  return inTransaction(db, async (trx) => {
    const row = (await trx('people_changes').where({ collection_id: collectionId }).orderBy('id', 'desc').first()) as
      { id: number; words: string; before: string } | undefined;
    if (!row) return undefined;
    const { persons, faces, answers } = JSON.parse(row.before) as Snapshot;
    await trx('likeness_answers').whereIn('a', faceIds(trx, collectionId)).delete();
    await trx('appearances').whereIn('id', faceIds(trx, collectionId)).update({ person_id: null, told: false });
    await trx('persons').where({ collection_id: collectionId }).delete();
    for (const person of persons) await trx('persons').insert(person);
    // Faces that were found anew since then have other ids, and keep what they are.
    for (const { id, ...face } of faces) await trx('appearances').where({ id }).whereNot({ state: 'forgotten' }).update(face);
    const there = new Set((await trx('appearances').whereIn('id', faceIds(trx, collectionId)).pluck('id')) as string[]);
    for (const answer of answers) if (there.has(answer.a) && there.has(answer.b)) await trx('likeness_answers').insert(answer);
    await trx('people_changes').where({ id: row.id }).delete();
    return row.words;
  });
}
