import type { Knex } from 'knex';

/** Plans become a tree of versions that can be walked back and forth; test strips and plan templates are kept. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('plans', (t) => {
    t.integer('parent');
    t.text('name').notNullable().defaultTo('');
  });
  await db.schema.alterTable('items', (t) => {
    t.integer('plan_version').notNullable().defaultTo(0);
    t.integer('plan_tip').notNullable().defaultTo(0);
  });
  // Until now each version followed the one before it.
  await db('plans')
    .where('version', '>', 1)
    .update({ parent: db.raw('version - 1') });
  const newest = '(select coalesce(max(version), 0) from plans where plans.item_id = items.id)';
  await db('items').update({ plan_version: db.raw(newest), plan_tip: db.raw(newest) });
  await db.schema.createTable('strips', (t) => {
    t.text('id').primary();
    t.text('item_id').notNullable().references('items.id').onDelete('CASCADE').index();
    t.text('content').notNullable();
    t.text('created').notNullable();
  });
  await db.schema.createTable('templates', (t) => {
    t.text('id').primary();
    t.text('content').notNullable();
    t.text('created').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  for (const table of ['templates', 'strips']) await db.schema.dropTable(table);
  await db.schema.alterTable('items', (t) => t.dropColumns('plan_version', 'plan_tip'));
  await db.schema.alterTable('plans', (t) => t.dropColumns('parent', 'name'));
}
