/* Parts of Knex that its own types leave out. */

declare module 'knex/lib/dialects/better-sqlite3/index.js' {
  export default class SqliteClient {
    constructor(...args: unknown[]);
    readonly connectionSettings: { filename: string };
    _formatBindings(bindings: unknown[] | undefined): unknown[];
  }
}

declare module 'knex/lib/dialects/sqlite3/execution/sqlite-transaction.js' {
  export default class SqliteTransaction {
    constructor(client: unknown, ...args: unknown[]);
    query(connection: unknown, sql: string): Promise<unknown>;
  }
}

declare module 'knex/lib/dialects/postgres/index.js' {
  export default class PostgresClient {
    constructor(...args: unknown[]);
    prepBindings(bindings: unknown[] | undefined): unknown[] | undefined;
    _query(connection: unknown, asked: object): Promise<unknown>;
  }
}
