import type { Knex } from 'knex';

/**
 * Putting a job together has a lease of its own, with a token; jobs keep notes of what befell them; originals and deliveries say when they
 * were last held against their checksums, and what was wrong; the queue has settings.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('jobs', (t) => {
    t.text('finish_token');
    t.integer('finish_until').notNullable().defaultTo(0);
    t.integer('finish_attempts').notNullable().defaultTo(0);
    t.text('notes').notNullable().defaultTo('[]');
  });
  for (const table of ['items', 'deliveries']) {
    await db.schema.alterTable(table, (t) => {
      t.text('checked');
      t.text('problem').notNullable().defaultTo('');
    });
  }
  await db.schema.createTable('settings', (t) => {
    t.text('name').primary();
    t.text('value').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('settings');
  for (const table of ['items', 'deliveries']) await db.schema.alterTable(table, (t) => t.dropColumns('checked', 'problem'));
  await db.schema.alterTable('jobs', (t) => t.dropColumns('finish_token', 'finish_until', 'finish_attempts', 'notes'));
}
