import type { Knex } from 'knex';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('access_token', (table) => {
    table.string('name', 40).primary();
    // the token itself is known to its owner alone
    table.string('hash', 64).notNullable().unique();
    table.string('access', 10).notNullable();
    table.double('made_at').notNullable();
    table.double('used_at');
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('access_token');
}
