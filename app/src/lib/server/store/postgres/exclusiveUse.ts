import knex, { type Knex } from 'knex';
import { PostgresClient } from './postgresClient';
import { valueParsers } from './valueParsers';

/** Connects a program that needs a database to itself. */
export const connectAlone = (address: string): Knex =>
  knex({
    client: PostgresClient,
    connection: { connectionString: address, types: valueParsers, application_name: 'jaunty-ledger alone' },
    pool: { min: 0, max: 1 },
  });

/** @throws if servers, or other programs of this project, are connected to the database */
export async function refuseInUse(database: Knex): Promise<void> {
  const found: { rows: { count: number }[] } = await database.raw(
    `select count(*)::int as count from pg_stat_activity where datname = current_database() and application_name like 'jaunty-ledger%' and pid <> pg_backend_pid()`,
  );
  const { count } = found.rows[0];
  if (count > 0)
    throw new Error(`Servers are using this store (${count} connections). Stop them, then run the command again.`);
}
