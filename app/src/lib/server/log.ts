import type { RequestEvent } from '@sveltejs/kit';
import { addressOf } from './http/clients';
import { pino } from 'pino';
import { settings } from './settings';
import { noteAct } from './store/audit';
import type { Rows } from './store/store';

export const log = pino({ level: settings.JAUNTY_LOG, base: undefined });

interface Entry {
  who: string;
  address: string;
  act: string;
  what: Record<string, unknown>;
}

const entryOf = (event: RequestEvent, act: string, what: Entry['what']): Entry => ({
  ...{ who: event.locals.who, address: addressOf(event).slice(0, 100) },
  ...{ act, what },
});

const inLog = ({ what, ...entry }: Entry) => log.info({ ...entry, ...what }, entry.act);

/**
 * Writes a change together with its entry in the audit trail: both are kept, or neither.
 * @param what  the details of the entry; undefined where nothing was changed
 */
export async function writeAudited<Result>(
  event: RequestEvent,
  act: string,
  change: (rows: Rows) => Promise<Result>,
  what: (result: Result) => Record<string, unknown> | undefined,
): Promise<Result> {
  const { gate, store } = event.locals;
  const [result, entry] = await store.write(async (rows) => {
    const changed = await change(rows);
    const details = what(changed);
    const made = details && entryOf(event, act, details);
    if (made && gate.isShut) await noteAct(rows, made);
    return [changed, made] as const;
  });
  if (entry) inLog(entry);
  return result;
}

/** Notes an act that changes no rows of its own, or whose change is written elsewhere: in the log, and in the audit trail. */
export function logged(event: RequestEvent, act: string, what: Record<string, unknown>): void {
  const { gate, store } = event.locals;
  const entry = entryOf(event, act, what);
  inLog(entry);
  if (!gate.isShut) return;
  noting = store
    .write((rows) => noteAct(rows, entry))
    .catch((error: unknown) => log.error({ err: error, act }, 'what was done could not be noted'));
}

let noting: Promise<void> = Promise.resolve();

/** Waits until what was written down last is in the store. */
export const isNoted = (): Promise<void> => noting;
