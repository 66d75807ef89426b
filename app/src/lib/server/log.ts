import type { RequestEvent } from '@sveltejs/kit';
import { pino } from 'pino';
import { settings } from './settings';

export const log = pino({ level: settings.JAUNTY_LOG, base: undefined });

/** Writes down who did what to what is kept. */
export function logged({ locals, getClientAddress }: RequestEvent, act: string, what: Record<string, unknown>): void {
  log.info({ who: locals.who, address: getClientAddress(), act, ...what }, act);
}
