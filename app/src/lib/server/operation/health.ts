import type { Health } from '$lib/api/operation';
import { refuse } from '$lib/api/problems';
import { isWorkerStuck } from '../jobs/jobWorker';
import { migrations } from '../store/migrations/migrations';
import type { Store } from '../store/store';

/** A store that does not answer in this time is not ready. */
const PATIENCE_MS = 2000;

/**
 * Tells that this server can do its work: its store answers, and its tables are those that this version knows.
 * @throws {Refusal} where it cannot
 */
export async function healthOf(store: Store): Promise<Health> {
  const tables = (await migrations.getMigrations([])).length;
  const late = new Promise<never>((_, failed) =>
    setTimeout(() => failed(new Error('the store does not answer')), PATIENCE_MS).unref(),
  );
  let known: number;
  try {
    const [found] = await Promise.race([store.read((rows) => rows('knex_migrations').count({ known: '*' })), late]);
    known = Number(found.known);
  } catch (error) {
    throw refuse('store-busy', 'The server runs, but its store does not answer.', {}, { cause: error });
  }
  if (isWorkerStuck())
    throw refuse('store-busy', 'The server runs, but has taken no job for 30 s: its queue does not answer.');
  if (known < tables) throw refuse('store-busy', 'The server runs, but its store is being brought up to date.');
  return { alive: true, ready: true, writes: store.hasRoom };
}
