import type { TestProject } from 'vitest/node';
import { WITHOUT_FSYNC, postgresPrograms, startPostgres } from '../scripts/postgres.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    /** The port of a throw-away PostgreSQL; 0 if this machine has none. */
    databasePort: number;
    /** Of a second one, which chunks are spread over; 0 likewise. */
    secondDatabasePort: number;
  }
}

/** Starts the database servers of a run, or takes those that are there. */
export default async function setup({ provide }: TestProject) {
  const provideAll = ([first, second]: readonly number[]) => {
    provide('databasePort', first);
    provide('secondDatabasePort', second);
    process.env.E2E_DATABASE_PORT = String(first); // for servers that tests start
  };
  const running = process.env.E2E_DATABASES;
  if (running !== undefined) return provideAll(running.split(',').map(Number));
  if (!postgresPrograms()) {
    console.warn('PostgreSQL is not on this machine: the tests of stores on a database server are left out.');
    return provideAll([0, 0]);
  }
  const servers = await Promise.all([1, 2].map(() => startPostgres({ settings: WITHOUT_FSYNC })));
  provideAll(servers.map(({ port }) => port));
  return () => Promise.all(servers.map((server) => server.end()));
}
