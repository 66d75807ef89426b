import type { Knex } from 'knex';
import { columnKinds } from './columnKinds';

/** Further columns of numbers that a file brings, and how exactly the times of a tape are told. */
export async function up(db: Knex): Promise<void> {
  const { json } = columnKinds(db);
  await db.schema.alterTable('tape', (table) => {
    // name, name in the file, stored column
    json(table, 'numbers').notNullable().defaultTo('[]');
    table.string('precision', 10).notNullable().defaultTo('moment');
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('tape', (table) => {
    table.dropColumn('numbers');
    table.dropColumn('precision');
  });
}
