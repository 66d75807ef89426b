import type { Knex } from 'knex';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('bar_stretch', (table) => {
    // of the tape, its version, the rule and the stretch
    table.string('key', 64).notNullable();
    table.integer('sequence').notNullable();
    table.integer('of').notNullable();
    table.double('made_at').notNullable().index();
    table.binary('data').notNullable();
    table.primary(['key', 'sequence']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('bar_stretch');
}
