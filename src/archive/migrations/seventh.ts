import type { Knex } from 'knex';

/** What people tell of an item is kept with it: title, people, date, place, rights. */
export async function up(db: Knex): Promise<void> {
  await db.raw("alter table items add column about text not null default '{}'");
}

export const down = (db: Knex): Promise<void> => db.raw('alter table items drop column about');
