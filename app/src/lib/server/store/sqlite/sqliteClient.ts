import type { Database, Statement } from 'better-sqlite3';
import type { Knex } from 'knex';
import KnexSqliteClient from 'knex/lib/dialects/better-sqlite3/index.js';
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

/**
 * Statements by their text, for as long as the process lives, and connections that were closed. Since Node 24 the engine ends
 * the process when it collects one of either (an assertion in the destructor that they inherit). So texts are to be few:
 * lists are inserted in a few lengths.
 */
const statements = new WeakMap<Database, Map<string, Statement>>();
const neverCollected: unknown[] = [];

/** Keeps something from being collected, see above. */
export const keepForEver = (what: unknown): void => void neverCollected.push(what);

function statementOf(connection: Database, text: string): Statement {
  let known = statements.get(connection);
  if (!known) {
    known = new Map();
    statements.set(connection, known);
    keepForEver([connection, known]);
  }
  let statement = known.get(text);
  if (!statement) known.set(text, (statement = connection.prepare(text)));
  return statement;
}

interface Query {
  sql: string;
  bindings?: unknown[];
  response?: unknown;
  context?: unknown;
}

class StatementKeepingClient extends KnexSqliteClient {
  transaction(...args: unknown[]): ImmediateTransaction {
    return new ImmediateTransaction(this, ...args);
  }

  async _query(connection: Database, query: Query): Promise<Query> {
    if (!query.sql) throw new Error('The query is empty');
    const statement = statementOf(connection, query.sql);
    const bindings = this._formatBindings(query.bindings);
    if (statement.reader) {
      query.response = statement.all(bindings);
      return query;
    }
    const response = statement.run(bindings);
    query.response = response;
    query.context = { lastID: response.lastInsertRowid, changes: response.changes };
    return query;
  }
}

/** The client that the store makes its connections with. */
export const SqliteClient = StatementKeepingClient as unknown as typeof Knex.Client;
