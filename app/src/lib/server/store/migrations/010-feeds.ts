import type { Knex } from 'knex';
import { columnKinds } from './columnKinds';

export async function up(db: Knex): Promise<void> {
  const { large } = columnKinds(db);
  await db.schema.alterTable('tape', (table) => {
    // the parts of its generation that are the tape's: one that is fed gets more at its end
    table.integer('parts').nullable();
  });
  await db.schema.createTable('feed_sender', (table) => {
    table[large]('tape_id').notNullable();
    table.string('sender').notNullable();
    table.double('last_sequence').notNullable();
    table.double('records').notNullable();
    table.double('last_at').notNullable();
    table.primary(['tape_id', 'sender']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('feed_sender');
  await db.schema.alterTable('tape', (table) => table.dropColumn('parts'));
}
