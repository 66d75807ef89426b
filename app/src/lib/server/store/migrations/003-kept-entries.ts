import type { Knex } from 'knex';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('kept_entry', (table) => {
    table.string('name').primary();
    table.string('formula').notNullable();
    table.double('kept_at').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('kept_entry');
}
