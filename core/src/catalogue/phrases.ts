import { DAY, HOUR, MINUTE, SECOND } from '../time/instant.js';
import type { Window } from '../windows/window.js';
import type { Lookback } from './functionEntry.js';

const TIME_UNITS = [
  ['week', 7 * DAY],
  ['day', DAY],
  ['hour', HOUR],
  ['minute', MINUTE],
  ['second', SECOND],
] as const;

const counted = (count: number, unit: string): string => `${count} ${unit}${count === 1 ? '' : 's'}`;

/** `20 bars`, `90 minutes`. */
export function stretchPhrase(stretch: Lookback): string {
  if ('bars' in stretch) return counted(stretch.bars, 'bar');
  const [unit, size] = TIME_UNITS.find(([, micros]) => stretch.micros % micros === 0) ?? TIME_UNITS[4];
  return counted(stretch.micros / size, unit);
}

/** `18 months`, `2 years`. */
const monthsPhrase = (months: number): string =>
  months % 12 === 0 ? counted(months / 12, 'year') : counted(months, 'month');

/** `20 bars, the current one left out`. */
export function windowPhrase(window: Window): string {
  const left = window.skip === 0 ? '' : window.skip === 1 ? ', the current row left out' : `, ${window.skip} rows back`;
  switch (window.kind) {
    case 'bars':
      return (
        counted(window.bars, 'bar') +
        { behind: '', centre: ' around each row', ahead: ' from each row on' }[window.placed] +
        left
      );
    case 'months':
      return monthsPhrase(window.months) + left;
    case 'time':
      return stretchPhrase(window) + left;
    case 'this':
      return `this ${window.period}${left}`;
    case 'all':
      return `all rows so far${left}`;
  }
}
