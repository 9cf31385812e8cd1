import type { Knex } from 'knex';

/** The people of a collection: faces as they appear in its pictures, who they are, and what was told about them. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('persons', (t) => {
    t.text('id').primary();
    t.text('collection_id').notNullable().references('collections.id').onDelete('CASCADE').index();
    t.text('name').notNullable().defaultTo('');
    t.integer('born');
    t.integer('died');
    // Whether somebody said anything of them; the others are as likeness puts faces together.
    t.boolean('told').notNullable().defaultTo(false);
    t.text('created').notNullable();
  });
  await db.schema.createTable('appearances', (t) => {
    t.text('id').primary();
    t.text('item_id').notNullable().references('items.id').onDelete('CASCADE').index();
    for (const column of ['x', 'y', 'width', 'height']) t.float(column).notNullable();
    t.integer('pixels').notNullable();
    t.float('blur');
    t.integer('yaw').notNullable();
    t.binary('portrait').notNullable();
    t.binary('residual');
    t.binary('separable');
    t.text('person_id').references('persons.id').onDelete('SET NULL').index();
    t.boolean('told').notNullable().defaultTo(false);
    t.text('state').notNullable().defaultTo('seen');
  });
  await db.schema.createTable('likeness_answers', (t) => {
    t.text('a').notNullable().references('appearances.id').onDelete('CASCADE');
    t.text('b').notNullable().references('appearances.id').onDelete('CASCADE');
    t.text('said').notNullable();
    t.primary(['a', 'b']);
  });
  await db.schema.createTable('people_changes', (t) => {
    t.increments('id');
    t.text('collection_id').notNullable().references('collections.id').onDelete('CASCADE').index();
    t.text('words').notNullable();
    t.text('before').notNullable();
    t.text('created').notNullable();
  });
  // Under which key an item's faces were looked for: another picture of it is looked at anew.
  await db.raw('alter table items add column faces_key text');
}

export async function down(db: Knex): Promise<void> {
  for (const table of ['people_changes', 'likeness_answers', 'appearances', 'persons']) await db.schema.dropTable(table);
  await db.raw('alter table items drop column faces_key');
}
