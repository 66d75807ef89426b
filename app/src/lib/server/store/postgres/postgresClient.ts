import type { Knex } from 'knex';
import KnexPostgresClient from 'knex/lib/dialects/postgres/index.js';

/** The sign for a zero byte. */
const ZERO_SIGN = '\u2400';

/** The database takes no zero bytes in texts, as a damaged file may have them: the sign for one stands for them. */
class ZeroKeepingClient extends KnexPostgresClient {
  prepBindings(bindings: unknown[] | undefined): unknown[] | undefined {
    return super
      .prepBindings(bindings)
      ?.map((value) => (typeof value === 'string' ? value.replaceAll('\0', ZERO_SIGN) : value));
  }
}

/** The client that a store on a database server makes its connections with. */
export const PostgresClient = ZeroKeepingClient as unknown as typeof Knex.Client;
