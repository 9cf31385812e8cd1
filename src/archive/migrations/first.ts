import type { Knex } from 'knex';

/** Collections, items, plans with their versions, jobs with their segments, deliveries with their files. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('collections', (t) => {
    t.text('id').primary();
    t.text('name').notNullable();
    t.text('note').notNullable().defaultTo('');
    t.text('due');
    t.text('created').notNullable();
  });
  await db.schema.createTable('items', (t) => {
    t.text('id').primary();
    t.text('collection_id').notNullable().references('collections.id').onDelete('CASCADE').index();
    t.text('name').notNullable();
    t.text('file_name').notNullable();
    t.text('kind').notNullable();
    t.text('source').notNullable();
    t.text('sha256').notNullable();
    t.integer('bytes').notNullable();
    t.text('facts').notNullable();
    t.text('condition');
    t.text('state').notNullable();
    t.text('message').notNullable().defaultTo('');
    t.text('created').notNullable();
    t.unique(['collection_id', 'sha256']);
  });
  await db.schema.createTable('plans', (t) => {
    t.increments('id');
    t.text('item_id').notNullable().references('items.id').onDelete('CASCADE');
    t.integer('version').notNullable();
    t.text('plan').notNullable();
    t.text('change').notNullable();
    t.text('created').notNullable();
    t.unique(['item_id', 'version']);
  });
  await db.schema.createTable('jobs', (t) => {
    t.text('id').primary();
    t.text('item_id').notNullable().references('items.id').onDelete('CASCADE').index();
    t.integer('plan_version').notNullable();
    t.text('plan').notNullable();
    t.text('options').notNullable();
    t.text('state').notNullable().index();
    t.integer('position').notNullable();
    t.integer('frames').notNullable();
    t.text('message').notNullable().defaultTo('');
    t.text('created').notNullable();
    t.text('started');
    t.text('finished');
  });
  await db.schema.createTable('segments', (t) => {
    t.text('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.integer('number').notNullable();
    t.integer('first').notNullable();
    t.integer('count').notNullable();
    t.text('state').notNullable();
    t.text('owner');
    t.integer('lease_until').notNullable().defaultTo(0);
    t.integer('frames_done').notNullable().defaultTo(0);
    t.integer('attempts').notNullable().defaultTo(0);
    t.float('milliseconds').notNullable().defaultTo(0);
    t.text('files');
    t.primary(['job_id', 'number']);
  });
  await db.schema.createTable('deliveries', (t) => {
    t.text('id').primary();
    t.text('job_id').notNullable().references('jobs.id').onDelete('CASCADE').index();
    t.text('item_id').notNullable().references('items.id').onDelete('CASCADE').index();
    t.text('folder').notNullable();
    t.text('notes').notNullable();
    t.text('created').notNullable();
  });
  await db.schema.createTable('deliverables', (t) => {
    t.increments('id');
    t.text('delivery_id').notNullable().references('deliveries.id').onDelete('CASCADE').index();
    t.text('kind').notNullable();
    t.text('file_name').notNullable();
    t.integer('bytes').notNullable();
    t.text('sha256').notNullable();
    t.text('note').notNullable().defaultTo('');
  });
}

export async function down(db: Knex): Promise<void> {
  for (const table of ['deliverables', 'deliveries', 'segments', 'jobs', 'plans', 'items', 'collections']) await db.schema.dropTable(table);
}
