import type { Precision } from './datedText.js';
import { DAY, type Instant } from './instant.js';

const PAIRS = Array.from({ length: 60 }, (_, number) => String(number).padStart(2, '0'));
/** The day that was told last: tables tell many instants of one. */
let latest = { day: NaN, date: '' };

/** RFC 3339 in UTC, with as many decimals of a second as the instant has. */
export function rfc3339(instant: Instant): string {
  const day = Math.floor(instant / DAY);
  if (day !== latest.day) latest = { day, date: new Date(day * 86_400_000).toISOString().slice(0, 11) };
  const micros = instant - day * DAY;
  const seconds = Math.floor(micros / 1e6);
  const minutes = Math.floor(seconds / 60);
  const rest = micros - seconds * 1e6;
  const decimals = rest === 0 ? '' : `.${String(rest).padStart(6, '0').replace(/0+$/, '')}`;
  return `${latest.date}${PAIRS[Math.floor(minutes / 60)]}:${PAIRS[minutes % 60]}:${PAIRS[seconds % 60]}${decimals}Z`;
}

/** An instant as exactly as it was told: `2019`, `2019-Q1`, `2019-03`, `2019-03-05`, `7` for period 7, or in full. */
export function toldText(instant: Instant, precision: Precision): string {
  if (precision === 'period') return String(periodNumber(instant));
  const text = rfc3339(instant);
  const lengths = { year: 4, month: 7, day: 10, moment: text.length };
  if (precision !== 'quarter') return text.slice(0, lengths[precision]);
  return `${text.slice(0, 4)}-Q${Math.ceil(Number(text.slice(5, 7)) / 3)}`;
}

/** The instant that stands for a period without a date, and the period that an instant stands for. */
export const periodInstant = (period: number): Instant => period * DAY;
export const periodNumber = (instant: Instant): number => Math.round(instant / DAY);

/** The instant of an RFC 3339 text, to the microsecond. NaN where it is none. */
export function instantOf(text: string): Instant {
  const fraction = /\.(\d+)/.exec(text)?.[1] ?? '';
  const whole = Date.parse(text.replace(/\.\d+/, ''));
  return whole * 1000 + Number(fraction.slice(0, 6).padEnd(6, '0'));
}
