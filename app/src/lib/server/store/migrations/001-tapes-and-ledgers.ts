import type { Knex } from 'knex';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('tape', (table) => {
    table.increments('id');
    table.string('name').notNullable();
    // the name without its capitals: two tapes are not told apart by those
    table.string('name_key').notNullable().unique();
    table.string('kind').notNullable();
    table.string('zone').notNullable();
    table.string('session');
    table.json('weekdays');
    table.json('closed');
    table.boolean('close_included').notNullable();
    table.string('interval');
    table.integer('rows').notNullable();
    table.double('first_at').notNullable();
    table.double('last_at').notNullable();
    table.json('columns').notNullable();
    table.integer('price_decimals').notNullable();
    table.integer('size_decimals').notNullable();
    table.json('spark').notNullable();
    table.integer('version').notNullable();
    table.string('note').notNullable();
    table.string('unit').notNullable();
    table.integer('flagged').notNullable();
    table.json('words').notNullable();
    table.json('report').notNullable();
    table.json('appended').notNullable();
    // deleted tapes can be brought back for a day
    table.double('deleted_at');
  });
  await db.schema.createTable('tape_chunk', (table) => {
    table.integer('tape_id').notNullable().references('tape.id').onDelete('CASCADE');
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
    table.integer('tape_id').notNullable().references('tape.id').onDelete('CASCADE').index();
    table.integer('line').notNullable();
    table.string('reason').notNullable();
    table.text('text').notNullable();
  });
  await db.schema.createTable('reading_profile', (table) => {
    table.string('name').primary();
    // what files of the same kind have in common
    table.string('shape').notNullable().index();
    table.json('choices').notNullable();
  });
  await db.schema.createTable('ledger', (table) => {
    table.increments('id');
    table.string('title').notNullable();
    table.json('body').notNullable();
    table.integer('version').notNullable();
    table.double('saved_at').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  for (const table of ['ledger', 'reading_profile', 'left_out_line', 'tape_chunk', 'tape'])
    await db.schema.dropTable(table);
}
