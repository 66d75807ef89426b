import type { Knex } from 'knex';
import { migrations } from './migrations';

/*
 * Tables only move forward, and a server tolerates steps that it does not know: while servers are upgraded one after another,
 * older ones go on beside newer tables. A step that older servers cannot work with has a name that ends in `-breaking`.
 */

/**
 * Runs the steps that a store has not had yet.
 * @throws in a sentence where a newer server has changed the tables so that this one cannot use them
 */
export async function migrateTables(
  db: Knex,
  config: Omit<Knex.MigratorConfig, 'migrationSource'> = {},
  source: Knex.MigrationSource<string> = migrations,
): Promise<void> {
  const options = { ...config, migrationSource: source, disableMigrationsListValidation: true };
  const known = new Set(await source.getMigrations([]));
  const [completed, pending] = (await db.migrate.list(options)) as [{ name: string }[], unknown[]];
  const breaking = completed.find(({ name }) => !known.has(name) && name.endsWith('-breaking'));
  if (breaking)
    throw new Error(
      `The store was upgraded by a newer version (step ${breaking.name}), which this version cannot work with. Upgrade this server too.`,
    );
  // to look whether there is anything to do writes nothing, so that a server starts on a full disk
  if (pending.length > 0) await db.migrate.latest(options);
}
