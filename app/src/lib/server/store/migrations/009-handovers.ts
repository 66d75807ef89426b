import type { Knex } from 'knex';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('handover', (table) => {
    table.increments('id');
    table.string('title').notNullable();
    table.json('body').notNullable();
    table.json('summary').notNullable();
    table.integer('version').notNullable();
    table.double('saved_at').notNullable();
    table.string('tape_key').notNullable().index();
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('handover');
}
