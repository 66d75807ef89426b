import type { ImportProgress } from '$lib/api/tapes';
import { log } from '../log';
import { dropProgress, findProgress, noteProgress } from '../store/importProgress';
import type { Store } from '../store/store';

/*
 * How far imports have come. The page that sends a file under a number of its own asks for it by that number, with servers that
 * share a store perhaps another one than it sends the file to.
 */

/** Imports that are under way on this server. */
const underWay = new Map<string, NonNullable<ImportProgress>>();
/** Other servers are told so often. */
const TOLD_EVERY_MS = 500;

export async function progressOf(store: Store, id: string): Promise<ImportProgress> {
  const own = underWay.get(id);
  if (own || !store.isShared) return own ?? null;
  return store.read((rows) => findProgress(rows, id));
}

/** An import that begins. */
interface UnderWay {
  reached: (bytes: number, rows: number) => void;
  /** After this nothing is told of it any more. */
  end: () => Promise<void>;
}

export function beginImport(store: Store, id: string | undefined): UnderWay {
  if (id === undefined) return { reached: () => undefined, end: async () => undefined };
  const startedAt = Date.now();
  const failed = (error: unknown) => log.warn({ err: error }, 'the progress of an import could not be noted');
  let telling: Promise<void> = Promise.resolve();
  let timer: ReturnType<typeof setTimeout> | undefined;
  const tell = () => {
    timer = undefined;
    const progress = underWay.get(id);
    if (!progress) return;
    telling = store.write((rows) => noteProgress(rows, id, progress, Date.now())).catch(failed);
  };
  const reached = (bytes: number, rows: number) => {
    underWay.set(id, { bytes, rows, startedAt });
    if (store.isShared) timer ??= setTimeout(tell, TOLD_EVERY_MS);
  };
  reached(0, 0);
  return {
    reached,
    end: async () => {
      underWay.delete(id);
      clearTimeout(timer);
      if (store.isShared) await telling.then(() => store.write((rows) => dropProgress(rows, id))).catch(failed);
    },
  };
}
