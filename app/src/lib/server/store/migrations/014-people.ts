import type { Knex } from 'knex';
import { columnKinds } from './columnKinds';

export async function up(db: Knex): Promise<void> {
  const { id } = columnKinds(db);
  await db.schema.createTable('person', (table) => {
    table.string('name', 40).primary();
    table.string('access', 10).notNullable();
    // as it was put through scrypt; none for whoever signs in elsewhere
    table.string('password', 300);
    // who it is at the provider that signs him in
    table.string('subject', 500).unique();
    // let in no more, whoever vouches for him
    table.integer('is_out').notNullable().defaultTo(0);
    table.double('made_at').notNullable();
    table.double('used_at');
  });
  await db.schema.createTable('session', (table) => {
    // the session itself is known to its browser alone
    table.string('hash', 64).primary();
    table.string('who', 40).notNullable();
    // of a person or of a token: either may be taken back
    table.string('kind', 10).notNullable();
    // the hash of the token it was opened with: another one of the same name is not the same
    table.string('opened_with', 64).notNullable();
    table.double('until').notNullable().index();
  });
  await db.schema.createTable('ownership', (table) => {
    table.string('kind', 10).notNullable();
    table.bigInteger('document_id').notNullable();
    table.string('owner', 40).notNullable();
    table.string('others', 10).notNullable();
    table.primary(['kind', 'document_id']);
  });
  await db.schema.createTable('audit', (table) => {
    id(table);
    table.double('at').notNullable().index();
    table.string('who', 40).notNullable();
    table.string('address', 100).notNullable();
    table.string('act', 60).notNullable();
    table.text('what').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  for (const table of ['audit', 'ownership', 'session', 'person']) await db.schema.dropTable(table);
}
