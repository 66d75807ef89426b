/** A PostgreSQL to throw away. */
export interface ThrowAwayPostgres {
  port: number;
  addressOf: (database: string) => string;
  start: () => Promise<void>;
  stop: (how?: 'fast' | 'kill') => Promise<void>;
  database: (name: string) => string;
  end: () => Promise<void>;
}
/** Settings of a server whose data need not outlive the machine: they do outlive a kill. */
export const IN_HASTE: Record<string, string>;
export function postgresPrograms(): string | undefined;
export function startPostgres(options?: {
  settings?: Record<string, string | number>;
  parent?: string;
  standbyOf?: string;
}): Promise<ThrowAwayPostgres>;
