import { pino } from 'pino';
import { settings } from './settings';

export const log = pino({ level: settings.JAUNTY_LOG, base: undefined });
