import type { Knex } from 'knex';
import { gunzipSync, gzipSync } from 'node:zlib';
import { refuse } from '$lib/api/problems';
import type { MarketCalendar } from '$lib/api/calendars';
import type { ShelfLine } from '$lib/api/shelf';
import type { CalendarCheck, TapeChange } from '$lib/api/tapes';
import { rfc3339 } from '@jaunty-ledger/core';
import type { LeftOutLine } from '@jaunty-ledger/files/checks/findings';
import { fromJson, toJson } from './json';
import { makeCurrent, retire } from './generations';
import { containing, pageOf, type ListPage, type ListRange } from './listPages';
import type { Rows } from './store';
import {
  inShort,
  keyOf,
  LISTED_COLUMNS,
  recordsOutside,
  rowOf,
  toListed,
  toTape,
  type ListedTape,
  type NewTape,
  type StoredTape,
  type TapeRow,
} from './tapeRows';

const MOST_TAGS = 20;

/** All tapes, by name. */
export async function listTapes(rows: Rows): Promise<ListedTape[]> {
  const found = await rows<TapeRow>('tape')
    .whereNull('deleted_at')
    .orderBy('name')
    .select(...LISTED_COLUMNS);
  return found.map(toListed);
}

/** The first tape by its name. */
export async function firstTape(rows: Rows): Promise<ListedTape | undefined> {
  const row = await rows<TapeRow>('tape')
    .whereNull('deleted_at')
    .orderBy('name')
    .first(...LISTED_COLUMNS);
  return row && toListed(row);
}

/** A stretch of all tapes, by name. @param find  words that a name or a note has in it */
export async function tapePage(rows: Rows, range: ListRange, find?: string): Promise<ListPage<ListedTape>> {
  const columns = [...LISTED_COLUMNS, 'name_key'] as const;
  const query = rows<TapeRow>('tape')
    .whereNull('deleted_at')
    .select(columns.map((name) => `tape.${name}`));
  if (find !== undefined) {
    const pattern = containing(find);
    void query.where(
      (either) =>
        void either
          .whereRaw(`name_key like ? escape '\\'`, [pattern])
          .orWhereRaw(`lower(note) like ? escape '\\'`, [pattern]),
    );
  }
  const found = query as unknown as Knex.QueryBuilder<TapeRow, TapeRow[]>;
  const page = await pageOf(found, range, ['tape.name_key'], 'asc');
  return { ...page, items: page.items.map(toListed) };
}

/** All tapes as the shelf lists them, by name. Nothing that it does not show is read. */
export async function listShelf(rows: Rows): Promise<ShelfLine[]> {
  const found = await rows<TapeRow>('tape')
    .whereNull('deleted_at')
    .orderBy('name')
    .select(
      ...(['name', 'kind', 'interval', 'rows', 'first_at', 'last_at', 'precision', 'note', 'calendar'] as const),
      ...(['tags', 'flagged', 'left_out', 'sorted', 'picture'] as const),
    );
  return found.map(({ first_at, last_at, tags, left_out, ...row }) => ({
    ...row,
    from: rfc3339(first_at),
    to: rfc3339(last_at),
    tags: fromJson<string[]>(tags),
    leftOut: left_out,
  }));
}

/** Names of all tapes, in order. */
export function tapeNames(rows: Rows): Promise<string[]> {
  return rows<TapeRow>('tape').whereNull('deleted_at').orderBy('name').pluck('name');
}

/** The tapes of some names, whatever their capitals, by name; those that there are. */
export async function findTapes(rows: Rows, names: readonly string[]): Promise<StoredTape[]> {
  return (await rows<TapeRow>('tape').whereIn('name_key', names.map(keyOf)).orderBy('name')).map(toTape);
}

/** The versions of the tapes of some names, by name; nothing else of them is read. */
export function versionsOf(rows: Rows, names: readonly string[]): Promise<{ name: string; version: number }[]> {
  return rows<TapeRow>('tape').whereIn('name_key', names.map(keyOf)).orderBy('name').select('name', 'version');
}

/** The versions of some tapes that are on the shelf, by their ids. */
export async function versionsById(rows: Rows, ids: readonly number[]): Promise<Map<number, number>> {
  const found = await rows<TapeRow>('tape').whereIn('id', ids).whereNull('deleted_at').select('id', 'version');
  return new Map(found.map(({ id, version }) => [id, version]));
}

/** The tapes that go by a calendar, by name. */
export async function followersOf(rows: Rows, { name }: MarketCalendar): Promise<StoredTape[]> {
  return (await rows<TapeRow>('tape').whereNull('deleted_at').where({ calendar: name }).orderBy('name')).map(toTape);
}

/** The tape of a name, whatever its capitals. */
export async function findTape(rows: Rows, name: string): Promise<StoredTape | undefined> {
  const row = await rows<TapeRow>('tape')
    .where({ name_key: keyOf(name) })
    .first();
  return row && toTape(row);
}

/** A tape that is on the shelf, by its number: its name may be another one by now. On request also one that is deleted. */
export async function tapeOfId(rows: Rows, id: number, isDeletedToo = false): Promise<StoredTape | undefined> {
  const row = await rows<TapeRow>('tape').where({ id }).first();
  return row && (isDeletedToo || row.deleted_at === null) ? toTape(row) : undefined;
}

/**
 * Puts a tape on the shelf, over a generation that is whole.
 * @throws {Refusal} where another one has the name
 */
export async function insertTape(rows: Rows, tape: NewTape): Promise<number> {
  if (await findTape(rows, tape.name)) throw nameTaken(tape.name);
  const [{ id }] = await rows<TapeRow>('tape').insert(rowOf(tape)).returning('id');
  await makeCurrent(rows, tape.generationId);
  return id;
}

export const nameTaken = (name: string) =>
  refuse('name-taken', `A tape is called ${name} already. Choose another name, or delete that tape first.`);

/** What of a tape can be changed without touching its records. A new calendar is a new version: bars change with it. */
export async function updateTape(rows: Rows, tape: StoredTape, change: TapeChange): Promise<void> {
  const row: Partial<TapeRow> = {};
  const {
    name,
    zone,
    session,
    weekdays,
    closed,
    closeIncluded,
    unit,
    priceDecimals,
    note,
    calendar,
    tags,
    addTags = [],
    sharedTimes,
  } = change;
  if (name !== undefined) Object.assign(row, { name, name_key: keyOf(name) });
  if (zone !== undefined) row.zone = zone;
  if (session !== undefined) row.session = session;
  if (weekdays !== undefined) row.weekdays = toJson(weekdays);
  if (closed !== undefined) row.closed = toJson(closed);
  if (closeIncluded !== undefined) row.close_included = closeIncluded ? 1 : 0;
  // hours that are changed by hand are the tape's own from then on
  const isByHand = [zone, session, weekdays, closed, closeIncluded].some((told) => told !== undefined);
  if (calendar !== undefined || isByHand) row.calendar = calendar ?? null;
  if (tags !== undefined || addTags.length > 0)
    row.tags = toJson([...new Set([...(tags ?? tape.tags), ...addTags])].slice(0, MOST_TAGS));
  if (unit !== undefined) row.unit = unit;
  if (note !== undefined) row.note = note;
  if (sharedTimes !== undefined) row.shared_times = sharedTimes;
  if (priceDecimals !== undefined) row.price_decimals = priceDecimals;
  await rows<TapeRow>('tape')
    .where({ id: tape.id })
    .update({ ...row, version: tape.version + 1 });
}

/** What a new calendar has flagged, and how many records have a flag since. */
export async function noteCalendarCheck(
  rows: Rows,
  { id }: StoredTape,
  flagged: number,
  check: CalendarCheck,
): Promise<void> {
  await rows<TapeRow>('tape')
    .where({ id })
    .update({ flagged, calendar_check: toJson(check), outside: recordsOutside([], check) });
}

/** Lets a tape point at another generation of its records. */
export async function replaceRecords(
  rows: Rows,
  { id, generationId: before }: StoredTape,
  generationId: string,
  now: number,
): Promise<void> {
  await rows<TapeRow>('tape').where({ id }).update({ generation_id: generationId, parts: null });
  await makeCurrent(rows, generationId);
  await retire(rows, before, now);
}

/** A tape with the records of a further file. */
export async function extendTape(
  rows: Rows,
  tape: StoredTape,
  grown: Pick<
    StoredTape,
    | 'rows'
    | 'flagged'
    | 'firstAt'
    | 'lastAt'
    | 'priceDecimals'
    | 'sizeDecimals'
    | 'spark'
    | 'texts'
    | 'report'
    | 'sharedTimes'
  >,
): Promise<void> {
  await rows<TapeRow>('tape')
    .where({ id: tape.id })
    .update({
      rows: grown.rows,
      flagged: grown.flagged,
      first_at: grown.firstAt,
      last_at: grown.lastAt,
      price_decimals: grown.priceDecimals,
      size_decimals: grown.sizeDecimals,
      spark: toJson(grown.spark),
      ...inShort(grown.spark, [tape.report, ...tape.appended, grown.report], tape.calendarCheck),
      texts: toJson(grown.texts),
      shared_times: grown.sharedTimes,
      appended: toJson([...tape.appended, grown.report]),
      version: tape.version + 1,
    });
}

/** What becomes of a tape by records that were fed to it. */
export type Fed = Pick<
  StoredTape,
  'rows' | 'flagged' | 'firstAt' | 'lastAt' | 'priceDecimals' | 'sizeDecimals' | 'spark' | 'texts'
> & { parts: number };

/** A tape with records that were fed to it. */
export async function feedTape(
  rows: Rows,
  { id, version, report, appended, calendarCheck }: StoredTape,
  fed: Fed,
): Promise<void> {
  await rows<TapeRow>('tape')
    .where({ id })
    .update({
      rows: fed.rows,
      flagged: fed.flagged,
      first_at: fed.firstAt,
      last_at: fed.lastAt,
      price_decimals: fed.priceDecimals,
      size_decimals: fed.sizeDecimals,
      spark: toJson(fed.spark),
      ...inShort(fed.spark, [report, ...appended], calendarCheck),
      texts: toJson(fed.texts),
      parts: fed.parts,
      version: version + 1,
    });
}

/** Says how many parts of its generation are a tape's, after `replaceRecords` has let it point there. */
export async function countParts(rows: Rows, { id }: StoredTape, parts: number): Promise<void> {
  await rows<TapeRow>('tape').where({ id }).update({ parts });
}

/** Takes a tape off the shelf; it can be brought back until it is cleared away. */
export async function deleteTape(rows: Rows, tape: StoredTape, at: number): Promise<void> {
  // its ledgers are found by its name, as they will be when it is restored or another tape takes the name
  await rows('ledger')
    .where({ tape_id: tape.id })
    .update({ tape_id: null, tape_name: tape.name, tape_key: keyOf(tape.name) });
  // its name is free again at once
  await rows<TapeRow>('tape')
    .where({ id: tape.id })
    .update({ deleted_at: at, name_key: `${keyOf(tape.name)} ${tape.id}` });
}

/** The tape of a name that was deleted last. */
export async function findDeleted(rows: Rows, name: string): Promise<StoredTape | undefined> {
  const row = await rows<TapeRow>('tape')
    .whereNotNull('deleted_at')
    .where({ name })
    .orderBy('deleted_at', 'desc')
    .first();
  return row && toTape(row);
}

/** @throws {Refusal} where another one has the name by now */
export async function restoreTape(rows: Rows, { id, name }: StoredTape): Promise<void> {
  if (await findTape(rows, name)) throw refuse('name-taken', `Another tape is called ${name} by now. Rename it first.`);
  await rows<TapeRow>('tape')
    .where({ id })
    .update({ deleted_at: null, name_key: keyOf(name) });
}

/** Clears away the tapes that were deleted before an instant; their records are swept later. */
export async function clearDeleted(rows: Rows, before: number, now: number): Promise<void> {
  const gone = await rows<TapeRow>('tape').where('deleted_at', '<', before).select('id', 'generation_id');
  for (const { id, generation_id } of gone) {
    await retire(rows, generation_id, now);
    await rows('feed_sender').where({ tape_id: id }).delete();
    await rows<TapeRow>('tape').where({ id }).delete();
  }
}

interface LeftOutRow {
  tape_id: number;
  file: number;
  count: number;
  lines: Buffer;
}

/** @param file  0 for the file that the tape was made of, then counting those that were appended */
export async function insertLeftOut(
  rows: Rows,
  tapeId: number,
  lines: readonly LeftOutLine[],
  file = 0,
): Promise<void> {
  if (lines.length === 0) return;
  const packed = gzipSync(JSON.stringify(lines), { level: 1 });
  await rows<LeftOutRow>('left_out_file').insert({ tape_id: tapeId, file, count: lines.length, lines: packed });
}

/** Lines of a tape's files that were left out, as they stood, by their files in order. */
export async function leftOutLines(rows: Rows, tapeId: number): Promise<(LeftOutLine & { file: number })[]> {
  const files = await rows<LeftOutRow>('left_out_file').where({ tape_id: tapeId }).orderBy('file');
  return files.flatMap(({ file, lines }) =>
    (JSON.parse(gunzipSync(lines).toString()) as LeftOutLine[]).map((line) => ({ ...line, file })),
  );
}
