import type { Knex } from 'knex';

type Table = Knex.CreateTableBuilder;

/**
 * Columns that databases make of different kinds. A store in a file has small numbers for its rows, in order; on a database
 * server rows would meet at the end of such an order, so that they have random ones. JSON is text there: as it was written,
 * and compared as such.
 */
export function columnKinds(db: Knex) {
  const { dialect } = db.client as { dialect: string };
  if (dialect !== 'postgresql')
    return {
      id: (table: Table) => table.increments('id'),
      json: (table: Table, name: string) => table.json(name),
      flag: (table: Table, name: string) => table.boolean(name),
      large: 'integer',
    } as const;
  return {
    id: (table: Table) =>
      table
        .bigInteger('id')
        .primary()
        .defaultTo(db.raw(`(${RANDOM_ID})`)),
    json: (table: Table, name: string) => table.text(name),
    flag: (table: Table, name: string) => table.integer(name),
    large: 'bigInteger',
  } as const;
}

/** A whole number from 1 to 2^48, which JSON and addresses of pages tell as it is. */
const RANDOM_ID = '1 + floor(random() * 281474976710655)::bigint';
