import type { Knex } from 'knex';

/** Further columns of numbers that a file brings, and how exactly the times of a tape are told. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('tape', (table) => {
    // name, name in the file, stored column
    table.json('numbers').notNullable().defaultTo('[]');
    table.string('precision', 10).notNullable().defaultTo('moment');
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('tape', (table) => {
    table.dropColumn('numbers');
    table.dropColumn('precision');
  });
}
