import type { Knex } from 'knex';

/** What a bar is where several rows of a tape share a time, as it was chosen at the import. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('tape', (table) => {
    table.string('shared_times', 10).nullable();
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('tape', (table) => table.dropColumns('shared_times'));
}
