import type { CalendarOptions } from '@jaunty-ledger/core';

const YEARS = [2018, 2019, 2020, 2021, 2022, 2023, 2024, 2025, 2026];

/** The Tarn Harbour Exchange: an island market that does not exist. */
export const TARN_HARBOUR = {
  zone: 'Atlantic/Faroe',
  session: '08:30-16:30',
  weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'],
  closed: [
    ...YEARS.flatMap((year) => [`${year}-01-01`, `${year}-12-25`, `${year}-12-26`]),
    '2025-12-24 12:00', // closes at noon
    '2026-03-18', // the day of the harbour feast
    '2026-04-03',
    '2026-04-06',
  ],
} as const satisfies CalendarOptions;

/** First dates of the records of each kind; all run to the last. */
export const DAILY_FROM = '2018-01-02';
export const MINUTES_FROM = '2025-09-01';
export const TRADES_FROM = '2026-02-02';
export const LAST_DATE = '2026-04-24';

/** Minutes of a full session. */
export const SESSION_MINUTES = 480;
