import type { Knex } from 'knex';
import { columnKinds } from './columnKinds';

export async function up(db: Knex): Promise<void> {
  const { json } = columnKinds(db);
  await db.schema.alterTable('left_out_line', (table) => {
    // 0 is the file that the tape was made of; appended ones follow
    table.integer('file').notNullable().defaultTo(0);
  });
  await db.schema.alterTable('tape', (table) => {
    // what a later calendar flags instead of the one of the import
    json(table, 'calendar_check');
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('left_out_line', (table) => table.dropColumn('file'));
  await db.schema.alterTable('tape', (table) => table.dropColumn('calendar_check'));
}
