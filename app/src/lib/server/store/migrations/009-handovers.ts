import type { Knex } from 'knex';
import { columnKinds } from './columnKinds';

export async function up(db: Knex): Promise<void> {
  const { id, json, large } = columnKinds(db);
  await db.schema.createTable('handover', (table) => {
    id(table);
    table.string('title').notNullable();
    json(table, 'body').notNullable();
    json(table, 'summary').notNullable();
    table[large]('version').notNullable();
    table.double('saved_at').notNullable();
    table.string('tape_key').notNullable().index();
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('handover');
}
