import type { Knex } from 'knex';

/** Faces of films appear along frames of their source, from the first to the last, and are described as the best of them shows them. */
const COLUMNS = ['first', 'last', 'best'] as const;

export async function up(db: Knex): Promise<void> {
  for (const column of COLUMNS) await db.raw(`alter table appearances add column ${column} integer`);
}

export async function down(db: Knex): Promise<void> {
  for (const column of COLUMNS) await db.raw(`alter table appearances drop column ${column}`);
}
