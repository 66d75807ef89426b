import { DatabaseSync, type DatabaseSyncInstance, type StatementSyncInstance } from '@photostructure/sqlite';
import type { Knex } from 'knex';
import KnexSqliteClient from 'knex/lib/dialects/better-sqlite3/index.js';
import SqliteTransaction from 'knex/lib/dialects/sqlite3/execution/sqlite-transaction.js';
import { LRUCache } from 'lru-cache';
import { withoutZeroBytes } from '../zeroBytes';

/**
 * Transactions that begin as writers. One that begins as a reader and then writes fails where another has written in
 * between, however long one waits.
 */
class ImmediateTransaction extends SqliteTransaction {
  begin(connection: unknown): Promise<unknown> {
    return this.query(connection, 'BEGIN IMMEDIATE;');
  }
}

interface Statement {
  prepared: StatementSyncInstance;
  returnsRows: boolean;
}

const MAX_STATEMENTS = 200;

/** Prepared statements of each connection by their text: to prepare one takes longer than to run it. */
const statements = new WeakMap<DatabaseSyncInstance, LRUCache<string, Statement>>();

function statementOf(connection: DatabaseSyncInstance, text: string): Statement {
  let cached = statements.get(connection);
  if (!cached) statements.set(connection, (cached = new LRUCache({ max: MAX_STATEMENTS })));
  let statement = cached.get(text);
  if (!statement) {
    const prepared = connection.prepare(text);
    statement = { prepared, returnsRows: prepared.columns().length > 0 };
    cached.set(text, statement);
  }
  return statement;
}

interface Query {
  sql: string;
  bindings?: unknown[];
  response?: unknown;
  context?: unknown;
}

type Value = string | number | bigint | null | Uint8Array;

/** The driver binds a number this near above a whole one as that: 1e-17 would be stored as 0. */
const DRIVER_EPSILON = Number.EPSILON;

/** A value as the driver is given it. A column of numbers turns the text of one back into the same number, to the last bit. */
const bound = (value: unknown): unknown =>
  typeof value === 'number' && value > 0 && value < DRIVER_EPSILON ? String(value) : withoutZeroBytes(value);

/** Replaces the byte arrays of the driver by buffers on the same memory, as other drivers return them. */
function withBuffers(rows: Record<string, unknown>[]): Record<string, unknown>[] {
  for (const row of rows)
    for (const name in row) {
      const value = row[name];
      if (value instanceof Uint8Array) row[name] = Buffer.from(value.buffer, value.byteOffset, value.byteLength);
    }
  return rows;
}

const ROLLBACK = /^ROLLBACK;?$/i;

/** Knex's client for SQLite on the engine's binding with prebuilt binaries, which has the interface of Node's own. */
class PrebuiltSqliteClient extends KnexSqliteClient {
  _driver(): typeof DatabaseSync {
    return DatabaseSync;
  }

  async acquireRawConnection(): Promise<DatabaseSyncInstance> {
    return new DatabaseSync(this.connectionSettings.filename);
  }

  transaction(...args: unknown[]): ImmediateTransaction {
    return new ImmediateTransaction(this, ...args);
  }

  async _query(connection: DatabaseSyncInstance, query: Query): Promise<Query> {
    if (!query.sql) throw new Error('The query is empty');
    // the engine rolls back by itself where the disk is full; an error here would hide that reason
    if (ROLLBACK.test(query.sql) && !connection.isTransaction) return { ...query, response: undefined };
    const { prepared, returnsRows } = statementOf(connection, query.sql);
    const values = this._formatBindings(query.bindings).map(bound) as Value[];
    if (returnsRows) {
      query.response = withBuffers(prepared.all(...values) as Record<string, unknown>[]);
      return query;
    }
    const response = prepared.run(...values);
    query.response = response;
    query.context = { lastID: response.lastInsertRowid, changes: response.changes };
    return query;
  }
}

/** Transactions that read: they see one state of the store, and keep no writer waiting. */
class ReadTransaction extends SqliteTransaction {
  begin(connection: unknown): Promise<unknown> {
    return this.query(connection, 'BEGIN DEFERRED;');
  }
}

class ReadingSqliteClient extends PrebuiltSqliteClient {
  override transaction(...args: unknown[]): ReadTransaction {
    return new ReadTransaction(this, ...args);
  }
}

/** The client of connections that write. */
export const SqliteClient = PrebuiltSqliteClient as unknown as typeof Knex.Client;
/** The client of connections that only read. */
export const SqliteReader = ReadingSqliteClient as unknown as typeof Knex.Client;
