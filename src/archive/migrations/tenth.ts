import type { Knex } from 'knex';

/** Of a face that nobody's others are like, it is kept that it was among those put together; of all that are there when this is brought in, it is taken to be so. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table appearances add column grouped integer not null default 0');
  await db('appearances').whereNotNull('residual').update({ grouped: 1 });
}

export async function down(db: Knex): Promise<void> {
  await db.raw('alter table appearances drop column grouped');
}
