import { makeCalendar, readClockText, TimeReader, type DateOrder } from '@jaunty-ledger/core';
import { roleOfWord } from './headerWords.js';
import { MISSING, readStyledNumber } from '../records/numberText.js';

/* What stands in the columns of a sample. */

export type ColumnType = 'time' | 'date' | 'clock' | 'number' | 'text' | 'empty';

const NUMERIC_DATE = /^(\d{4}[-/.]\d{1,2}[-/.]\d{1,2}|\d{1,2}[-/.]\d{1,2}[-/.]\d{2,4})/;
const EPOCH = /^1?\d{9}(\.\d+)?$|^\d{13}$|^\d{16}$|^\d{19}$/;
/** Figures alone that may be a date: years, months and days without marks. */
const BARE_DATE = /^(1[5-9]|20)\d{2}((0[1-9]|1[0-2])(0[1-9]|[12]\d|3[01])?)?$/;

const utc = makeCalendar({ zone: 'UTC' });

/** Reads times of a sample, whatever their zone. */
export function timesOf(cells: readonly string[], order: DateOrder): { instants: number[]; reader: TimeReader } {
  const reader = new TimeReader(utc, order);
  const instants = cells.map((cell) => {
    const bytes = new TextEncoder().encode(cell);
    return reader.read(bytes, 0, bytes.length);
  });
  return { instants, reader };
}

/** @param name  what the column is called, where it is called something */
export function typeOf(cells: readonly string[], decimal: '.' | ',', name: string): ColumnType {
  const filled = cells.filter((cell) => cell !== '' && !MISSING.test(cell));
  if (filled.length === 0) return 'empty';
  const most = (fits: (cell: string) => boolean) => filled.filter(fits).length > 0.8 * filled.length;
  if (most((cell) => cell.includes(':') && readClockText(cell) !== undefined)) return 'clock';
  const isBare = most((cell) => /^\d+(\.\d*)?$/.test(cell));
  if (isBare && most((cell) => EPOCH.test(cell)) && most((cell) => Number(cell) >= 1e8)) return 'time';
  if (isBare && most((cell) => BARE_DATE.test(cell)) && (isCalledDate(name) || isBareDate(filled))) return 'date';
  if (!isBare && most((cell) => /\d/.test(cell) && !isPlainFigure(cell))) {
    const { instants, reader } = timesOf(filled, 'day-first');
    // a date with the month first is one too
    const known = instants.filter((instant, row) => !Number.isNaN(instant) || NUMERIC_DATE.test(filled[row])).length;
    if (known > 0.8 * filled.length) return reader.precision === 'moment' ? 'time' : 'date';
  }
  // half of them is enough: a column of prices with many flaws is still one of prices
  const numbers = filled.filter((cell) => !Number.isNaN(readStyledNumber(cell, decimal))).length;
  return numbers >= 0.5 * filled.length ? 'number' : 'text';
}

/**
 * Types, with columns of clocks without marks for what they are: `0930` or `0930 AM` beside a date, under the name of a time;
 * or right behind the date, where the dates repeat or a clock begins with 0, under no name or one that means nothing here.
 */
export function withCompactClocks(
  types: readonly ColumnType[],
  columnAt: (index: number) => readonly string[],
  names: readonly string[],
): ColumnType[] {
  if (!types.includes('date') || types.includes('clock')) return [...types];
  return types.map((type, index) => {
    if (type !== 'number' && type !== 'text') return type;
    const cells = columnAt(index).filter((cell) => !MISSING.test(cell));
    const role = roleOfWord(names[index]);
    if (role === 'time' || role === 'clock')
      return cells.every((cell) => /^\d{3,9}\s*([ap]\.?m?\.?)?$/i.test(cell)) ? 'clock' : type;
    if (role !== undefined || types[index - 1] !== 'date') return type;
    const isClocks = cells.every((cell) => /^(\d{4}|\d{6}|\d{9})$/.test(cell) && readClockText(cell) !== undefined);
    const isEven = new Set(cells.map(({ length }) => length)).size === 1;
    const dates = columnAt(index - 1);
    const isWithin = new Set(dates).size < dates.length || cells.some((cell) => cell.startsWith('0'));
    return isClocks && isEven && isWithin ? 'clock' : type;
  });
}

const isCalledDate = (name: string): boolean => /date|day|month|quarter|year|period|datum|dato|time/i.test(name);
const isPlainFigure = (cell: string): boolean => /^[^\d]{0,4}\d+([.,]\d+)?%?$/.test(cell) && !/[a-z]/i.test(cell);

/** Days without marks are dates; years and months are where they follow on each other. */
function isBareDate(cells: readonly string[]): boolean {
  if (cells.every((cell) => cell.length === 8)) return true;
  const steps = cells.slice(1).map((cell, row) => Number(cell) - Number(cells[row]));
  return steps.length > 0 && (steps.every((step) => step > 0) || steps.every((step) => step < 0));
}

/**
 * Day or month first, where dates do not begin with their year. What makes all of them dates holds, then what puts them in
 * order and evenly apart; where both do, it stays open.
 */
export function dateOrderOf(columns: readonly (readonly string[])[]): { order: DateOrder; isOpen: boolean } {
  const cells = columns.flat().flatMap((cell) => /^\d{1,2}[-/. ]\d{1,2}[-/. ]\d{2,4}/.exec(cell) ?? []);
  if (cells.length === 0) return { order: 'year-first', isOpen: false };
  // dates with points begin with the day wherever they are written
  if (
    cells.every((cell) => /^\d{1,2}\.\d{1,2}\./.test(cell)) &&
    cells.every((cell) => Number(cell.split('.')[1]) <= 12)
  )
    return { order: 'day-first', isOpen: false };
  const [byDay, byMonth] = (['day-first', 'month-first'] as const).map((order) => fitOf(cells, order));
  const worse = byDay.unknown - byMonth.unknown || byDay.disorder - byMonth.disorder || byDay.steps - byMonth.steps;
  if (worse === 0) return { order: 'day-first', isOpen: byDay.same !== cells.length };
  return { order: worse < 0 ? 'day-first' : 'month-first', isOpen: false };
}

/** How well some dates fit an order: those that are none, those that go back, and how many different steps there are. */
function fitOf(cells: readonly string[], order: DateOrder) {
  const dates = timesOf(cells, order).instants;
  const known = dates.filter((instant) => !Number.isNaN(instant));
  const steps = known.slice(1).map((instant, row) => instant - known[row]);
  const back = steps.filter((step) => step < 0).length;
  const on = steps.filter((step) => step > 0).length;
  const lengths = new Set(known.slice(1).map((instant, row) => stepOf(known[row], instant)));
  lengths.delete('0 days');
  const same = cells.filter((cell) => /^(\d{1,2})[-/. ]\1[-/. ]/.test(cell)).length;
  return { unknown: dates.length - known.length, disorder: Math.min(back, on), steps: lengths.size, same };
}

/** How far one date lies from another: in months where both are of one day of the month, else in days. */
function stepOf(before: number, after: number): string {
  const [a, b] = [new Date(before / 1000), new Date(after / 1000)];
  const months = 12 * (b.getUTCFullYear() - a.getUTCFullYear()) + b.getUTCMonth() - a.getUTCMonth();
  if (months !== 0 && a.getUTCDate() === b.getUTCDate()) return `${Math.abs(months)} months`;
  return `${Math.abs(Math.round((after - before) / 86_400e6))} days`;
}
