import { readdir } from 'node:fs/promises';
import path from 'node:path';
import type { Knex } from 'knex';
import { type Archive, inTransaction } from '../database';
import { snapshotFolder } from '../guard';
import { personIn } from './persons';

/**
 * Takes away all that is known of a person, in the archive and in the copies of its database: name and years, descriptors and portraits of their faces,
 * and what could be taken back, in which they would still be. Their faces are not described again.
 * @throws PeopleError where the collection has no such person.
 */
export async function forgetPerson({ db, paths }: Archive, collectionId: string, id: string): Promise<void> {
  await personIn(db, collectionId, id);
  const faces = (await db('appearances').where({ person_id: id }).pluck('id')) as string[];
  await erased(db, collectionId, id, faces);
  const folder = snapshotFolder(paths);
  for (const name of await readdir(folder).catch(() => [])) {
    if (!name.endsWith('.sqlite')) continue;
    const { default: knex } = await import('knex');
    const copy = knex({ client: 'better-sqlite3', connection: { filename: path.join(folder, name) }, useNullAsDefault: true });
    try {
      // Copies from before there were people hold none.
      if (await copy.schema.hasTable('appearances')) await erased(copy, collectionId, id, faces);
    } finally {
      await copy.destroy();
    }
  }
}

async function erased(db: Knex, collectionId: string, id: string, faces: readonly string[]): Promise<void> {
  // What is deleted is overwritten, not left in free pages.
  await db.raw('pragma secure_delete = on');
  await inTransaction(db, async (trx) => {
    await trx('likeness_answers').whereIn('a', faces).orWhereIn('b', faces).delete();
    await trx('appearances')
      .whereIn('id', faces)
      .update({ state: 'forgotten', person_id: null, residual: null, separable: null, portrait: Buffer.alloc(0), blur: null });
    await trx('persons').where({ id }).delete();
    await trx('people_changes').where({ collection_id: collectionId }).delete();
  });
  await db.raw('pragma wal_checkpoint(truncate)');
  await db.raw('pragma secure_delete = off');
}
