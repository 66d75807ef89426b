import { Health } from '$lib/api/operation';
import { migrations } from '../store/migrations/migrations';
import type { Store } from '../store/store';
import { log } from '../log';

/** A store that does not answer in this time is not ready. */
const PATIENCE_MS = 2000;

/** Whether this server can do its work: its store answers, and its tables are those that this version knows. */
export async function healthOf(store: Store): Promise<Health> {
  const tables = (await migrations.getMigrations([])).length;
  const late = new Promise<never>((_, failed) =>
    setTimeout(() => failed(new Error('the store does not answer')), PATIENCE_MS).unref(),
  );
  try {
    const [{ known }] = await Promise.race([
      store.read((rows) => rows<{ name: string }>('knex_migrations').count({ known: '*' })),
      late,
    ]);
    const isCurrent = Number(known) >= tables;
    return { alive: true, ready: isCurrent, store: isCurrent ? 'reached' : 'being brought up to date' };
  } catch (error) {
    log.warn({ err: error }, 'not ready');
    return { alive: true, ready: false, store: 'not reached' };
  }
}
