import type { Knex } from 'knex';
import SqliteClient from 'knex/lib/dialects/better-sqlite3/index.js';
import SqliteTransaction from 'knex/lib/dialects/sqlite3/execution/sqlite-transaction.js';

/**
 * Transactions that begin as writers. One that begins as a reader and then writes fails where another has written in
 * between, however long one waits.
 */
class ImmediateTransaction extends SqliteTransaction {
  begin(connection: unknown): Promise<unknown> {
    return this.query(connection, 'BEGIN IMMEDIATE;');
  }
}

export const ImmediateClient = class extends SqliteClient {
  transaction(...args: unknown[]): ImmediateTransaction {
    return new ImmediateTransaction(this, ...args);
  }
} as unknown as typeof Knex.Client;
