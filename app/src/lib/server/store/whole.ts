import { createHash } from 'node:crypto';
import { decodeChunk } from '../chunks/tapeChunk';
import { chunksBetween } from './chunks';
import type { GenerationWriter } from './generations';
import { makeCurrent } from './generations';
import type { PartRow } from './partRows';
import type { Rows, Store } from './store';
import type { StoredTape } from './tapeRows';

/* A store as a whole, for those who carry it elsewhere: its rows as they are, which every kind of database takes. */

/** Values of a row by the names of its columns. */
export type PlainRow = Record<string, string | number | Buffer | null>;

/** Everything that is kept but for tapes: those rows are few, or small. */
export const OTHER_TABLES = [
  'calendar',
  'reading_profile',
  'kept_entry',
  'access_token',
  'ledger',
  'page',
  'handover',
  'person',
  'ownership',
  'audit',
] as const;
/** What is kept with each tape beside its records. */
export const TAPE_TABLES = ['left_out_file', 'feed_sender'] as const;

type OtherTable = (typeof OTHER_TABLES)[number];
type TapeTable = (typeof TAPE_TABLES)[number];

/** Rows of one statement. */
const ROWS_AT_ONCE = 50;

/** A tape's row as it is, deleted ones among them. */
export interface TapeRow extends PlainRow {
  id: number;
  name: string;
  rows: number;
  version: number;
  generation_id: string;
  parts: number | null;
}

export const allRows = (rows: Rows, table: OtherTable): Promise<PlainRow[]> => rows<PlainRow>(table);

export const rowsOfTape = (rows: Rows, table: TapeTable, tapeId: number): Promise<PlainRow[]> =>
  rows<PlainRow>(table).where({ tape_id: tapeId });

/** What tells the tapes apart: their rows are long, and there may be very many. */
export const allTapes = (rows: Rows): Promise<Pick<TapeRow, 'id' | 'name' | 'version'>[]> =>
  rows<TapeRow>('tape').orderBy('id').select('id', 'name', 'version');

export const tapeRow = (rows: Rows, id: number): Promise<TapeRow | undefined> =>
  rows<TapeRow>('tape').where({ id }).first() as Promise<TapeRow | undefined>;

/** Puts rows in the place of all that a table has. */
export async function replaceRows(rows: Rows, table: OtherTable, list: readonly PlainRow[]): Promise<void> {
  await rows(table).delete();
  await insertRows(rows, table, list);
}

async function insertRows(rows: Rows, table: string, list: readonly PlainRow[]): Promise<void> {
  for (let at = 0; at < list.length; at += ROWS_AT_ONCE) await rows(table).insert(list.slice(at, at + ROWS_AT_ONCE));
}

/**
 * Enters a tape with its row as it was, over one of the same id.
 * @param generation  its records, whole
 */
export async function putTape(
  store: Store,
  tape: TapeRow,
  generation: GenerationWriter,
  about: Record<TapeTable, readonly PlainRow[]>,
): Promise<void> {
  await store.write(async (rows) => {
    for (const table of TAPE_TABLES) await rows(table).where({ tape_id: tape.id }).delete();
    await rows('tape').where({ id: tape.id }).delete();
    const generation_id = generation.count > 0 ? generation.id : '';
    await rows('tape').insert({ ...tape, generation_id, parts: null });
    await makeCurrent(rows, generation_id);
    for (const table of TAPE_TABLES) await insertRows(rows, table, about[table]);
  });
}

/**
 * What tells the records of a tape from others, as its store notes it: cheap, since no record is read.
 * @returns undefined where there is no such tape
 */
export async function tapeMark(rows: Rows, id: number): Promise<string | undefined> {
  const tape = await tapeRow(rows, id);
  if (!tape) return undefined;
  const parts = rows<PartRow>('tape_part').where({ generation_id: tape.generation_id }).orderBy('sequence');
  const own = tape.parts === null ? parts : parts.where('sequence', '<', tape.parts);
  const facts = await own.select('rows', 'first_at', 'last_at', 'least', 'greatest');
  return JSON.stringify([tape.version, tape.rows, facts]);
}

/** SHA-256 of each column of some records, and of all of them, however they lie in chunks. */
export class RecordSums {
  private readonly sums = new Map<string, ReturnType<typeof createHash>>();
  rows = 0;

  add(columns: Record<string, Float64Array>): void {
    this.rows += columns.time.length;
    for (const [name, { buffer, byteOffset, byteLength }] of Object.entries(columns)) {
      const sum = this.sums.get(name) ?? createHash('sha256');
      this.sums.set(name, sum);
      sum.update(new Uint8Array(buffer, byteOffset, byteLength));
    }
  }

  /** The sum over all columns. */
  get whole(): string {
    const columns = [...this.sums].map(([name, sum]) => [name, sum.copy().digest('hex')] as const);
    columns.sort(([a], [b]) => (a < b ? -1 : 1));
    return createHash('sha256').update(JSON.stringify(columns)).digest('hex');
  }
}

/** Reads all records of a tape, each chunk against its checksum, and gives their sum. @throws where one is damaged */
export async function sumOfTape(store: Store, tape: StoredTape): Promise<string> {
  const sums = new RecordSums();
  for await (const chunk of chunksBetween(store, tape, -Infinity, Infinity)) sums.add(decodeChunk(chunk));
  return sums.whole;
}
