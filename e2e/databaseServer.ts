import type { TestProject } from 'vitest/node';
import { WITHOUT_FSYNC, postgresPrograms, startPostgres } from '../scripts/postgres.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    /** The port of a PostgreSQL to throw away; 0 where there is none on this machine. */
    databasePort: number;
    /** Of a second one, which chunks are spread over; 0 likewise. */
    secondDatabasePort: number;
  }
}

export default async function setup({ provide }: TestProject) {
  if (!postgresPrograms()) {
    console.warn('PostgreSQL is not on this machine: the tests of stores on a database server are left out.');
    provide('databasePort', 0);
    return provide('secondDatabasePort', 0);
  }
  const [server, second] = await Promise.all([1, 2].map(() => startPostgres({ settings: WITHOUT_FSYNC })));
  provide('databasePort', server.port);
  provide('secondDatabasePort', second.port);
  process.env.E2E_DATABASE_PORT = String(server.port); // of the servers that tests start themselves
  return () => Promise.all([server.end(), second.end()]);
}
