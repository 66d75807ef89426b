import type { RequestEvent } from '@sveltejs/kit';
import { addressOf } from './http/clients';
import { pino } from 'pino';
import { settings } from './settings';
import { noteAct } from './store/audit';

export const log = pino({ level: settings.JAUNTY_LOG, base: undefined });

/** Writes down who did what to what is kept: in the log, and where people sign in also in the store. */
export function logged(event: RequestEvent, act: string, what: Record<string, unknown>): void {
  const { locals } = event;
  const { who, gate, store } = locals;
  const address = addressOf(event).slice(0, 100);
  log.info({ who, address, act, ...what }, act);
  if (!gate.isShut) return;
  noting = store
    .write((rows) => noteAct(rows, { who, address, act, what }, Date.now() * 1000))
    .catch((error: unknown) => log.error({ err: error, who, act }, 'what was done could not be noted'));
}

let noting: Promise<void> = Promise.resolve();

/** Waits until what was written down last is in the store. */
export const isNoted = (): Promise<void> => noting;
