import type { Knex } from 'knex';
import type { IntakeReport, Tape, TapeKind } from '$lib/api/tapes';
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
  report: string;
}

export type NewTape = Omit<StoredTape, 'id' | 'from' | 'to' | 'version'>;

/** All tapes, by name. */
export async function listTapes(db: Knex): Promise<StoredTape[]> {
  return (await db<TapeRow>('tape').orderBy('name')).map(toTape);
}

/** The tape of a name, whatever its capitals. */
export async function findTape(db: Knex, name: string): Promise<StoredTape | undefined> {
  const row = await db<TapeRow>('tape')
    .where({ name_key: keyOf(name) })
    .first();
  return row && toTape(row);
}

/** Puts a tape's row into the store. `db` is the transaction that its chunks are written in. */
export async function insertTape(db: Knex, tape: NewTape): Promise<number> {
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
    report: JSON.stringify(tape.report),
  });
  return id;
}

/** Deletes a tape with its chunks. False where there is none of the name. */
export async function deleteTape(db: Knex, name: string): Promise<boolean> {
  return (
    (await db<TapeRow>('tape')
      .where({ name_key: keyOf(name) })
      .delete()) > 0
  );
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
    report: JSON.parse(row.report) as IntakeReport,
  };
}
