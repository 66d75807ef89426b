import type { Knex } from 'knex';
import KnexPostgresClient from 'knex/lib/dialects/postgres/index.js';
import { withoutZeroBytes } from '../zeroBytes';
import { isLate } from './postgresErrors';

/** A connection as the driver has it. */
interface Raw {
  connection?: { stream?: { destroy: (error: Error) => void } };
}

/**
 * The database takes no zero bytes in texts, as a damaged file may have them: the sign for one stands for them. And a connection
 * over which no answer came in time is given up: nothing may come over it any more.
 */
class StoreClient extends KnexPostgresClient {
  prepBindings(bindings: unknown[] | undefined): unknown[] | undefined {
    return super.prepBindings(bindings)?.map(withoutZeroBytes);
  }

  async _query(raw: Raw, asked: object): Promise<unknown> {
    try {
      return await super._query(raw, asked);
    } catch (error) {
      if (isLate(error)) raw.connection?.stream?.destroy(error as Error);
      throw error;
    }
  }
}

/** The client that a store on a database server makes its connections with. */
export const PostgresClient = StoreClient as unknown as typeof Knex.Client;
