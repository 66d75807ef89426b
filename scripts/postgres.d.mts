/** A PostgreSQL to throw away. */
export interface ThrowAwayPostgres {
  port: number;
  addressOf: (database: string) => string;
  start: () => Promise<void>;
  stop: (how?: 'fast' | 'kill') => Promise<void>;
  database: (name: string) => string;
  end: () => Promise<void>;
}
/** Settings of a server that is quick: its data are kept when it is killed, but not when the machine loses power. */
export const WITHOUT_FSYNC: Record<string, string>;
export function postgresPrograms(): string | undefined;
export function startPostgres(options?: {
  settings?: Record<string, string | number>;
  parent?: string;
  standbyOf?: string;
}): Promise<ThrowAwayPostgres>;
