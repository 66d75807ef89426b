import { instantOf, periodNumber } from '@jaunty-ledger/core';
import type { ShelfLine } from '$lib/api/shelf';
import type { Tape } from '$lib/api/tapes';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

export function dateText(text: string, precision: Tape['precision']): string {
  if (precision === 'period') return `period ${periodNumber(instantOf(text))}`;
  const at = new Date(text);
  if (precision === 'year') return String(at.getUTCFullYear());
  if (precision === 'quarter') return `Q${Math.floor(at.getUTCMonth() / 3) + 1} ${at.getUTCFullYear()}`;
  if (precision === 'month') return `${MONTHS[at.getUTCMonth()]} ${at.getUTCFullYear()}`;
  return `${at.getUTCDate()} ${MONTHS[at.getUTCMonth()]} ${at.getUTCFullYear()}`;
}

/** `2 Feb to 24 Apr 2026`; what both ends share is said once. */
export function spanText({ from, to, precision }: Pick<Tape, 'from' | 'to' | 'precision'>): string {
  const [a, b] = [dateText(from, precision), dateText(to, precision)];
  if (a === b) return a;
  if (precision === 'period') return `${a} to ${periodNumber(instantOf(to))}`;
  const isByDay = precision === 'moment' || precision === 'day';
  return isByDay && from.slice(0, 4) === to.slice(0, 4) ? `${a.slice(0, -5)} to ${b}` : `${a} to ${b}`;
}

/** What the records of a tape are. */
export const kindText = ({ kind, interval }: Pick<Tape, 'kind' | 'interval'>): string =>
  kind === 'bars'
    ? `records of ${interval ?? 'some length'}`
    : { ticks: 'trades', quotes: 'quotes', series: 'dated values' }[kind];

/** The state of a tape's checks, in a few words. */
export function stateText({ leftOut, flagged, sorted }: Pick<ShelfLine, 'leftOut' | 'flagged' | 'sorted'>): string {
  const said = [
    leftOut > 0 && `${leftOut.toLocaleString('en')} ${leftOut === 1 ? 'line' : 'lines'} left out`,
    flagged > 0 && `${flagged.toLocaleString('en')} flagged`,
    sorted > 0 && `${sorted.toLocaleString('en')} sorted into place`,
  ].filter((part) => part !== false);
  return said.length === 0 ? 'whole' : said.join(', ');
}

/** A name for the tape of a file: its own, made fit for formulas, and not one that is taken. */
export function nameFor(file: string, taken: readonly string[]): string {
  const words = file
    .replace(/\.[a-z0-9]+$/i, '')
    .replaceAll(/[^A-Za-z0-9]+/g, '_')
    .replaceAll(/^_+|_+$/g, '');
  const base = (/^[A-Za-z]/.test(words) ? words : `T_${words}`).slice(0, 36).toUpperCase();
  const names = new Set(taken.map((name) => name.toUpperCase()));
  let name = base;
  for (let number = 2; names.has(name); number++) name = `${base}_${number}`;
  return name;
}

/** The points of a small picture, as an SVG path in a box. */
export function sparkPath(values: readonly number[], width: number, height: number): string {
  if (values.length === 0) return '';
  const least = Math.min(...values);
  const spread = Math.max(...values) - least || 1;
  const x = (index: number) => (values.length === 1 ? width / 2 : (index / (values.length - 1)) * width);
  const y = (value: number) => height - 1 - ((value - least) / spread) * (height - 2);
  return values
    .map((value, index) => `${index === 0 ? 'M' : 'L'}${x(index).toFixed(1)} ${y(value).toFixed(1)}`)
    .join('');
}
