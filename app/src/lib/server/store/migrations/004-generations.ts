import { gzipSync } from 'node:zlib';
import type { Knex } from 'knex';
import { columnKinds } from './columnKinds';

interface OldTape {
  id: number;
  columns: string;
  words: string;
}

/**
 * Chunks lie under a generation and never change; a tape's row points at the one that holds. So a long change needs the
 * store for moments only, and whoever reads goes on reading what was there when he began.
 */
export async function up(db: Knex): Promise<void> {
  const { json, large } = columnKinds(db);
  await db.schema.createTable('generation', (table) => {
    table.string('id', 36).primary();
    // `making` until a tape points at it, `retired` since none does any more
    table.string('state', 10).notNullable().index();
    table.double('at').notNullable();
  });
  await db.schema.createTable('chunk', (table) => {
    table.string('generation_id', 36).notNullable();
    table.integer('sequence').notNullable();
    table.bigInteger('checksum').notNullable();
    table.binary('data').notNullable();
    table.primary(['generation_id', 'sequence']);
  });
  // the parts of a tape in order; a part that a change leaves as it was stays in the chunk of an earlier generation
  await db.schema.createTable('tape_part', (table) => {
    table.string('generation_id', 36).notNullable();
    table.integer('sequence').notNullable();
    table.string('chunk_generation_id', 36).notNullable();
    table.integer('chunk_sequence').notNullable();
    table.integer('rows').notNullable();
    table.double('first_at').notNullable();
    table.double('last_at').notNullable();
    table.double('least').notNullable();
    table.double('greatest').notNullable();
    table.primary(['generation_id', 'sequence']);
    table.index(['chunk_generation_id', 'chunk_sequence']);
  });
  await db.schema.alterTable('tape', (table) => {
    table.string('generation_id', 36).notNullable().defaultTo('');
    // text columns: name, name in the file, stored column, words
    json(table, 'texts').notNullable().defaultTo('[]');
  });
  await db.raw(`insert into generation (id, state, at) select 'tape-' || id, 'current', 0 from tape`);
  await db.raw(
    `insert into chunk (generation_id, sequence, checksum, data)
     select 'tape-' || tape_id, sequence, checksum, data from tape_chunk`,
  );
  await db.raw(
    `insert into tape_part
     (generation_id, sequence, chunk_generation_id, chunk_sequence, rows, first_at, last_at, least, greatest)
     select 'tape-' || tape_id, sequence, 'tape-' || tape_id, sequence, rows, first_at, last_at, least, greatest from tape_chunk`,
  );
  for (const { id, columns, words } of await db<OldTape>('tape').select('id', 'columns', 'words')) {
    const known = new Map(Object.entries(JSON.parse(words) as Record<string, string[]>));
    const own = (JSON.parse(columns) as string[]).filter((column) => !known.has(column));
    const texts = [...known].map(([name, list]) => ({ name, title: name, column: name, words: list }));
    await db('tape')
      .where({ id })
      .update({ generation_id: `tape-${id}`, columns: JSON.stringify(own), texts: JSON.stringify(texts) });
  }
  // as the engine does it: the library's way makes the table anew, and what refers to its rows goes with the old one
  await db.raw('alter table tape drop column words');
  await db.schema.dropTable('tape_chunk');

  // the left-out lines of a file as one: many small rows hold the store for as long as it takes to write them
  await db.schema.createTable('left_out_file', (table) => {
    table[large]('tape_id').notNullable().references('tape.id').onDelete('CASCADE');
    table.integer('file').notNullable();
    table.integer('count').notNullable();
    table.binary('lines').notNullable();
    table.primary(['tape_id', 'file']);
  });
  await copyLeftOutLines(db);
  await db.schema.dropTable('left_out_line');

  // ledgers are looked for by their tape
  await db.schema.alterTable('ledger', (table) => table.string('tape_key').notNullable().defaultTo('').index());
  for (const { id, body } of await db<{ id: number; body: string }>('ledger').select('id', 'body')) {
    const { tape } = JSON.parse(body) as { tape: string };
    await db('ledger').where({ id }).update({ tape_key: tape.toLowerCase() });
  }
}

async function copyLeftOutLines(db: Knex): Promise<void> {
  const files = await db<{ tape_id: number; file: number }>('left_out_line').distinct('tape_id', 'file');
  for (const { tape_id, file } of files) {
    const lines: { line: number; reason: string; text: string }[] = await db('left_out_line')
      .where({ tape_id, file })
      .orderBy('line')
      .select('line', 'reason', 'text');
    await db('left_out_file').insert({ tape_id, file, count: lines.length, lines: gzipSync(JSON.stringify(lines)) });
  }
}

export async function down(): Promise<void> {
  throw new Error('generations of chunks are not taken back: chunks may be shared by then');
}
