import type { Knex } from 'knex';
import { columnKinds } from './columnKinds';

export async function up(db: Knex): Promise<void> {
  const { id, json, flag, large } = columnKinds(db);
  await db.schema.createTable('tape', (table) => {
    id(table);
    table.string('name').notNullable();
    // the name without its capitals: two tapes are not told apart by those
    table.string('name_key').notNullable().unique();
    table.string('kind').notNullable();
    table.string('zone').notNullable();
    table.string('session');
    json(table, 'weekdays');
    json(table, 'closed');
    flag(table, 'close_included').notNullable();
    table.string('interval');
    table[large]('rows').notNullable();
    table.double('first_at').notNullable();
    table.double('last_at').notNullable();
    json(table, 'columns').notNullable();
    table.integer('price_decimals').notNullable();
    table.integer('size_decimals').notNullable();
    json(table, 'spark').notNullable();
    table[large]('version').notNullable();
    table.string('note').notNullable();
    table.string('unit').notNullable();
    table.integer('flagged').notNullable();
    json(table, 'words').notNullable();
    json(table, 'report').notNullable();
    json(table, 'appended').notNullable();
    // deleted tapes can be brought back for a day
    table.double('deleted_at');
  });
  await db.schema.createTable('tape_chunk', (table) => {
    table[large]('tape_id').notNullable().references('tape.id').onDelete('CASCADE');
    table.integer('sequence').notNullable();
    table.integer('rows').notNullable();
    table.double('first_at').notNullable();
    table.double('last_at').notNullable();
    table.double('least').notNullable();
    table.double('greatest').notNullable();
    table.integer('checksum').notNullable();
    table.binary('data').notNullable();
    table.primary(['tape_id', 'sequence']);
  });
  await db.schema.createTable('left_out_line', (table) => {
    table[large]('tape_id').notNullable().references('tape.id').onDelete('CASCADE').index();
    table.integer('line').notNullable();
    table.string('reason').notNullable();
    table.text('text').notNullable();
  });
  await db.schema.createTable('reading_profile', (table) => {
    table.string('name').primary();
    // what files of the same kind have in common
    table.string('shape').notNullable().index();
    json(table, 'choices').notNullable();
  });
  await db.schema.createTable('ledger', (table) => {
    id(table);
    table.string('title').notNullable();
    json(table, 'body').notNullable();
    table[large]('version').notNullable();
    table.double('saved_at').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  for (const table of ['ledger', 'reading_profile', 'left_out_line', 'tape_chunk', 'tape'])
    await db.schema.dropTable(table);
}
