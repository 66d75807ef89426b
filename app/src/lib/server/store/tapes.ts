import type { Store } from './connection';
import type { TapeKind } from '$lib/api/reading';
import type { CalendarCheck, IntakeReport, Tape, TapeChange } from '$lib/api/tapes';
import type { LeftOutLine } from '../files/findings';
import { rfc3339 } from '$lib/api/times';

/** A tape as the server knows it: what is shown of it, and what reading it takes. */
export interface StoredTape extends Tape {
  id: number;
  firstAt: number;
  lastAt: number;
  sizeDecimals: number;
}

interface TapeRow {
  id: number;
  name: string;
  name_key: string;
  kind: TapeKind;
  zone: string;
  session: string | null;
  weekdays: string | null;
  closed: string | null;
  close_included: number;
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
  words: string;
  report: string;
  appended: string;
  calendar_check: string | null;
  deleted_at: number | null;
}

export type NewTape = Omit<StoredTape, 'id' | 'from' | 'to' | 'version' | 'appended' | 'calendarCheck'>;

/** All tapes, by name. */
export async function listTapes(db: Store): Promise<StoredTape[]> {
  return (await db<TapeRow>('tape').whereNull('deleted_at').orderBy('name')).map(toTape);
}

/** The tape of a name, whatever its capitals. */
export async function findTape(db: Store, name: string): Promise<StoredTape | undefined> {
  const row = await db<TapeRow>('tape')
    .where({ name_key: keyOf(name) })
    .first();
  return row && toTape(row);
}

/** Puts a tape's row into the store. `db` is the transaction that its chunks are written in. */
export async function insertTape(db: Store, tape: NewTape): Promise<number> {
  const [id] = await db<TapeRow>('tape').insert({
    name: tape.name,
    name_key: keyOf(tape.name),
    kind: tape.kind,
    zone: tape.zone,
    session: tape.session,
    weekdays: tape.weekdays && JSON.stringify(tape.weekdays),
    closed: tape.closed && JSON.stringify(tape.closed),
    close_included: tape.closeIncluded ? 1 : 0,
    interval: tape.interval,
    rows: tape.rows,
    first_at: tape.firstAt,
    last_at: tape.lastAt,
    columns: JSON.stringify(tape.columns),
    price_decimals: tape.priceDecimals,
    size_decimals: tape.sizeDecimals,
    spark: JSON.stringify(tape.spark),
    version: 1,
    note: tape.note,
    unit: tape.unit,
    flagged: tape.flagged,
    words: JSON.stringify(tape.words),
    report: JSON.stringify(tape.report),
    appended: '[]',
  });
  return id;
}

/** What of a tape can be changed without touching its records. A new calendar is a new version: bars change with it. */
export async function updateTape(db: Store, tape: StoredTape, change: TapeChange): Promise<void> {
  const row: Partial<TapeRow> = {};
  const { name, zone, session, weekdays, closed, closeIncluded, unit, priceDecimals, note } = change;
  if (name !== undefined) Object.assign(row, { name, name_key: keyOf(name) });
  if (zone !== undefined) row.zone = zone;
  if (session !== undefined) row.session = session;
  if (weekdays !== undefined) row.weekdays = weekdays && JSON.stringify(weekdays);
  if (closed !== undefined) row.closed = closed && JSON.stringify(closed);
  if (closeIncluded !== undefined) row.close_included = closeIncluded ? 1 : 0;
  if (unit !== undefined) row.unit = unit;
  if (note !== undefined) row.note = note;
  if (priceDecimals !== undefined) row.price_decimals = priceDecimals;
  await db<TapeRow>('tape')
    .where({ id: tape.id })
    .update({ ...row, version: db.raw('version + 1') });
}

/** What a new calendar has flagged, and how many records have a flag since. */
export async function noteCalendarCheck(
  db: Store,
  tape: StoredTape,
  flagged: number,
  check: CalendarCheck,
): Promise<void> {
  await db<TapeRow>('tape')
    .where({ id: tape.id })
    .update({ flagged, calendar_check: JSON.stringify(check) });
}

/** A tape with the records of a further file. */
export async function extendTape(
  db: Store,
  tape: StoredTape,
  {
    rows,
    flagged,
    firstAt,
    lastAt,
    spark,
    words,
    report,
  }: Pick<StoredTape, 'rows' | 'flagged' | 'firstAt' | 'lastAt' | 'spark' | 'words' | 'report'>,
): Promise<void> {
  await db<TapeRow>('tape')
    .where({ id: tape.id })
    .update({
      rows,
      flagged,
      first_at: firstAt,
      last_at: lastAt,
      spark: JSON.stringify(spark),
      words: JSON.stringify(words),
      appended: JSON.stringify([...tape.appended, report]),
      version: tape.version + 1,
    });
}

/** Takes a tape off the shelf; it can be brought back until it is cleared away. */
export async function deleteTape(db: Store, tape: StoredTape, at: number): Promise<void> {
  // its name is free again at once
  await db<TapeRow>('tape')
    .where({ id: tape.id })
    .update({ deleted_at: at, name_key: `${keyOf(tape.name)} ${tape.id}` });
}

/** The tape of a name that was deleted last. */
export async function findDeleted(db: Store, name: string): Promise<StoredTape | undefined> {
  const row = await db<TapeRow>('tape')
    .whereNotNull('deleted_at')
    .where({ name })
    .orderBy('deleted_at', 'desc')
    .first();
  return row && toTape(row);
}

export async function restoreTape(db: Store, tape: StoredTape): Promise<void> {
  await db<TapeRow>('tape')
    .where({ id: tape.id })
    .update({ deleted_at: null, name_key: keyOf(tape.name) });
}

/** Clears away, with their chunks, the tapes that were deleted before an instant. */
export async function clearDeleted(db: Store, before: number): Promise<void> {
  await db<TapeRow>('tape').where('deleted_at', '<', before).delete();
}

interface LeftOutRow extends LeftOutLine {
  tape_id: number;
  file: number;
}

/** Rows of one insert: SQLite binds so many values at once and no more. */
const ROWS_AT_ONCE = 200;

/** @param file  0 for the file that the tape was made of, then counting those that were appended */
export async function insertLeftOut(db: Store, tapeId: number, lines: readonly LeftOutLine[], file = 0): Promise<void> {
  const rows = lines.map((line) => ({ tape_id: tapeId, file, ...line }));
  if (rows.length > 0) await db.batchInsert('left_out_line', rows, ROWS_AT_ONCE);
}

/** Lines of a tape's files that were left out, as they stood. */
export async function leftOutLines(db: Store, tapeId: number): Promise<(LeftOutLine & { file: number })[]> {
  return db<LeftOutRow>('left_out_line')
    .where({ tape_id: tapeId })
    .orderBy(['file', 'line'])
    .select('file', 'line', 'reason', 'text');
}

/** The part of a stored tape that is told to clients. */
export function shownTape({
  id: _id,
  firstAt: _first,
  lastAt: _last,
  sizeDecimals: _sizes,
  ...tape
}: StoredTape): Tape {
  return tape;
}

const keyOf = (name: string): string => name.toLowerCase();

function toTape(row: TapeRow): StoredTape {
  const parsed = <T>(text: string | null) => (text === null ? null : (JSON.parse(text) as T));
  return {
    id: row.id,
    name: row.name,
    kind: row.kind,
    zone: row.zone,
    session: row.session,
    weekdays: parsed<string[]>(row.weekdays),
    closed: parsed<string[]>(row.closed),
    closeIncluded: row.close_included === 1,
    interval: row.interval,
    rows: row.rows,
    firstAt: row.first_at,
    lastAt: row.last_at,
    from: rfc3339(row.first_at),
    to: rfc3339(row.last_at),
    columns: JSON.parse(row.columns) as string[],
    priceDecimals: row.price_decimals,
    sizeDecimals: row.size_decimals,
    spark: JSON.parse(row.spark) as number[],
    version: row.version,
    note: row.note,
    unit: row.unit,
    flagged: row.flagged,
    words: JSON.parse(row.words) as Record<string, string[]>,
    report: JSON.parse(row.report) as IntakeReport,
    appended: JSON.parse(row.appended) as IntakeReport[],
    calendarCheck: parsed<CalendarCheck>(row.calendar_check),
  };
}
