import type { TapeKind } from '@jaunty-ledger/files/reading/reading';
import { rfc3339, type Precision } from '@jaunty-ledger/core';
import { recordColumns, type NumberColumn, type TextColumn } from '@jaunty-ledger/files/records/textColumns';
import { pictureOf } from '$lib/api/shelf';
import type { CalendarCheck, IntakeReport, SharedTimes, Tape, TapeDetails } from '$lib/api/tapes';
import { fromJson, toJson } from './json';

/* The rows of the table of tapes, and the tapes that they are. */

/** A tape as the server knows it: what is shown of it, and what reading it takes. */
export interface StoredTape extends Omit<TapeDetails, 'columns' | 'texts' | 'numbers'> {
  id: number;
  /** Where its records lie. */
  generationId: string;
  /** How many parts of its generation are its own, where that is fed and grows; null where all are. */
  parts: number | null;
  /** Our own columns of its records. */
  columns: string[];
  /** Columns of the file's own, which hold words. */
  texts: TextColumn[];
  /** Further columns of numbers of the file's own. */
  numbers: NumberColumn[];
  firstAt: number;
  lastAt: number;
  sizeDecimals: number;
}

/** A tape in a list, without its import reports, which are long. */
export type ListedTape = Omit<StoredTape, 'report' | 'appended' | 'calendarCheck'>;

export interface TapeRow {
  id: number;
  name: string;
  name_key: string;
  kind: TapeKind;
  zone: string;
  session: string | null;
  weekdays: string | null;
  closed: string | null;
  close_included: number;
  calendar: string | null;
  tags: string;
  picture: string;
  left_out: number;
  sorted: number;
  interval: string | null;
  rows: number;
  first_at: number;
  last_at: number;
  columns: string;
  price_decimals: number;
  size_decimals: number;
  spark: string;
  version: number;
  note: string;
  unit: string;
  flagged: number;
  outside: number;
  texts: string;
  numbers: string;
  value_name: string | null;
  shared_times: SharedTimes | null;
  precision: Precision;
  generation_id: string;
  parts: number | null;
  report: string;
  appended: string;
  calendar_check: string | null;
  deleted_at: number | null;
}

export type NewTape = Omit<
  StoredTape,
  'id' | 'parts' | 'from' | 'to' | 'version' | 'appended' | 'calendarCheck' | 'outside' | 'valueName' | 'sharedTimes'
> &
  Partial<Pick<StoredTape, 'valueName' | 'sharedTimes'>>;

export const LISTED_COLUMNS = [
  ...(['id', 'name', 'kind', 'zone', 'session', 'weekdays', 'closed', 'close_included', 'calendar'] as const),
  ...(['tags', 'interval', 'rows', 'first_at', 'last_at', 'columns', 'price_decimals', 'size_decimals'] as const),
  ...([
    'spark',
    'version',
    'note',
    'unit',
    'flagged',
    'outside',
    'texts',
    'numbers',
    'value_name',
    'shared_times',
    'precision',
  ] as const),
  ...(['generation_id', 'parts'] as const),
] as const satisfies readonly (keyof TapeRow)[];
type ListedRow = Pick<TapeRow, (typeof LISTED_COLUMNS)[number]>;

/** What the shelf shows of a tape, in short. */
export function inShort(
  spark: readonly number[],
  reports: readonly IntakeReport[],
  check: CalendarCheck | null = null,
) {
  const sum = (count: (report: IntakeReport) => number) => reports.reduce((total, report) => total + count(report), 0);
  return {
    picture: pictureOf(spark),
    left_out: sum(({ leftOutCount }) => leftOutCount),
    sorted: sum(({ findings }) => findings.find(({ id }) => id === 'out-of-order')?.count ?? 0),
    outside: recordsOutside(reports, check),
  };
}

/** Records outside the session and on closed dates: by the last check of a calendar, else as the imports found them. */
export function recordsOutside(reports: readonly IntakeReport[], check: CalendarCheck | null): number {
  if (check) return check.outside + check.closedDate;
  return reports
    .flatMap(({ findings }) => findings)
    .filter(({ id, treatment }) => (id === 'outside' || id === 'closed-date') && treatment !== 'leave-out')
    .reduce((sum, { count }) => sum + count, 0);
}

export function rowOf(tape: NewTape): Omit<TapeRow, 'id' | 'parts' | 'calendar_check' | 'deleted_at'> {
  return {
    name: tape.name,
    name_key: keyOf(tape.name),
    kind: tape.kind,
    zone: tape.zone,
    session: tape.session,
    weekdays: toJson(tape.weekdays),
    closed: toJson(tape.closed),
    close_included: tape.closeIncluded ? 1 : 0,
    calendar: tape.calendar,
    tags: toJson(tape.tags),
    interval: tape.interval,
    rows: tape.rows,
    first_at: tape.firstAt,
    last_at: tape.lastAt,
    columns: toJson(tape.columns),
    price_decimals: tape.priceDecimals,
    size_decimals: tape.sizeDecimals,
    spark: toJson(tape.spark),
    ...inShort(tape.spark, [tape.report]),
    version: 1,
    note: tape.note,
    unit: tape.unit,
    flagged: tape.flagged,
    texts: toJson(tape.texts),
    numbers: toJson(tape.numbers),
    value_name: tape.valueName ?? null,
    shared_times: tape.sharedTimes ?? null,
    precision: tape.precision,
    generation_id: tape.generationId,
    report: toJson(tape.report),
    appended: '[]',
  };
}

/** The part of a stored tape that clients receive. */
export function shownTape({
  id: _id,
  generationId: _generation,
  parts: _parts,
  firstAt: _first,
  lastAt: _last,
  sizeDecimals: _sizes,
  columns,
  texts,
  numbers,
  ...tape
}: ListedTape): Tape {
  return {
    ...tape,
    columns: recordColumns({ columns, texts, numbers }).map(({ name }) => name),
    texts: texts.map(({ name, title, words }) => ({ name, title, words: words.length })),
    numbers: numbers.map(({ name, title }) => ({ name, title })),
  };
}

/** As `shownTape`, with the import reports. */
export const shownDetails = (tape: StoredTape): TapeDetails => shownTape(tape) as TapeDetails;

export const keyOf = (name: string): string => name.toLowerCase();

export const toTape = (row: TapeRow): StoredTape => ({
  ...toListed(row),
  report: fromJson<IntakeReport>(row.report),
  appended: fromJson<IntakeReport[]>(row.appended),
  calendarCheck: fromJson<CalendarCheck | null>(row.calendar_check),
});

export function toListed(row: ListedRow): ListedTape {
  return {
    id: row.id,
    name: row.name,
    kind: row.kind,
    zone: row.zone,
    session: row.session,
    weekdays: fromJson<string[] | null>(row.weekdays),
    closed: fromJson<string[] | null>(row.closed),
    closeIncluded: row.close_included === 1,
    calendar: row.calendar,
    tags: fromJson<string[]>(row.tags),
    interval: row.interval,
    rows: row.rows,
    firstAt: row.first_at,
    lastAt: row.last_at,
    from: rfc3339(row.first_at),
    to: rfc3339(row.last_at),
    columns: fromJson<string[]>(row.columns),
    priceDecimals: row.price_decimals,
    sizeDecimals: row.size_decimals,
    spark: fromJson<number[]>(row.spark),
    version: row.version,
    note: row.note,
    unit: row.unit,
    flagged: row.flagged,
    outside: row.outside,
    generationId: row.generation_id,
    parts: row.parts,
    texts: fromJson<TextColumn[]>(row.texts),
    numbers: fromJson<NumberColumn[]>(row.numbers),
    valueName: row.value_name,
    sharedTimes: row.shared_times,
    precision: row.precision,
  };
}
