import type { Knex } from 'knex';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('import_progress', (table) => {
    table.string('id', 100).primary();
    table.double('bytes').notNullable();
    table.double('rows').notNullable();
    table.double('started_at').notNullable();
    table.double('at').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('import_progress');
}
