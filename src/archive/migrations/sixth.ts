import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';

/** What a file is stands apart from what is made of it: sources have a checksum and are looked after, items are parts of them. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('sources', (t) => {
    t.text('id').primary();
    t.text('path').notNullable().unique();
    t.text('file_name').notNullable();
    t.text('sha256').notNullable().index();
    t.integer('bytes').notNullable();
    t.text('checked');
    t.text('problem').notNullable().defaultTo('');
    t.text('created').notNullable();
  });
  // In place, here and below: a table that is copied and dropped takes with it what refers to it.
  await db.raw('alter table items add column source_id text references sources(id)');
  await db.raw("alter table items add column part text not null default '{}'");
  interface Former {
    id: string;
    source: string;
    file_name: string;
    sha256: string;
    bytes: number;
    checked: string | null;
    problem: string;
    created: string;
  }
  const ids = new Map<string, string>();
  for (const item of (await db('items').orderBy('created')) as Former[]) {
    if (!ids.has(item.source)) {
      ids.set(item.source, randomUUID());
      const { source, file_name, sha256, bytes, checked, problem, created } = item;
      await db('sources').insert({ id: ids.get(source), path: source, file_name, sha256, bytes, checked, problem, created });
    }
    await db('items')
      .where({ id: item.id })
      .update({ source_id: ids.get(item.source) });
  }
  await db.raw('drop index if exists items_collection_id_sha256_unique');
  for (const column of ['source', 'file_name', 'sha256', 'bytes', 'checked', 'problem'])
    await db.raw(`alter table items drop column ${column}`);
  await db.raw('create unique index items_part_unique on items (collection_id, source_id, part)');
}

/** One file may be several items now, for which there was no place before. */
export const down = (): Promise<void> => Promise.reject(new Error('sources and items cannot be put together again'));
