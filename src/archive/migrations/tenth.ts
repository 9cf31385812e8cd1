import type { Knex } from 'knex';

/** Keeps which faces were put together before: one that is like no other has no person to tell it by. Those that are there already were. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table appearances add column grouped integer not null default 0');
  await db('appearances').whereNotNull('residual').update({ grouped: 1 });
}

export async function down(db: Knex): Promise<void> {
  await db.raw('alter table appearances drop column grouped');
}
