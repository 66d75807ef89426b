import { existsSync } from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { toParquet } from '@jaunty-ledger/files/tables/parquetTable';
import type { TableColumn } from '@jaunty-ledger/files/tables/table';
import { decodeChunk } from '../chunks/tapeChunk';
import { chunksBetween } from '../store/chunks';
import { Refusal } from '$lib/api/problems';
import type { Rows, Store } from '../store/store';
import { tapeOfId } from '../store/tapes';
import type { StoredTape } from '../store/tapeRows';
import {
  allRows,
  allTapes,
  OTHER_TABLES,
  RecordSums,
  rowsOfTape,
  TAPE_TABLES,
  tapeRow,
  type PlainRow,
} from '../store/whole';
import { BackupFiles, FORMAT, lastTables, recordsFile, tableFile, tapeFolder, type Contents } from './backupFiles';
import { KeepingError, type Told } from './keepingError';

/** Chunks of one file of records. */
const CHUNKS_OF_FILE = 4;

/**
 * Writes everything of a store into a folder, while servers work with it. A tape, its records and how far its senders have
 * fed it are of one moment: restored, a sender that sends again what was not acknowledged loses nothing.
 * @param folder  that is not there yet
 */
export async function backUp(store: Store, folder: string, told: Told): Promise<void> {
  if (existsSync(folder)) throw new KeepingError(`${folder} is there already. Name a folder that is not.`);
  const part = `${folder}.part`;
  await rm(part, { recursive: true, force: true });
  await mkdir(join(part, 'tables'), { recursive: true, mode: 0o700 });
  const contents: Contents = {
    format: FORMAT,
    tables: await lastTables(),
    madeAt: new Date().toISOString(),
    sums: {},
    tapes: [],
  };
  const files = new BackupFiles(part, contents.sums);
  const [lists, tapes] = await store.snapshot(async (rows) => {
    const lists: PlainRow[][] = [];
    for (const table of OTHER_TABLES) lists.push(await allRows(rows, table));
    return [lists, await allTapes(rows)] as const;
  });
  for (const [at, table] of OTHER_TABLES.entries()) await files.writeRows(tableFile(table), lists[at]);
  for (const [at, { id, name }] of tapes.entries()) {
    const own = tapeFolder(id);
    const attempt = async (reader: Reader) => {
      await rm(join(part, own), { recursive: true, force: true });
      await mkdir(join(part, own), { recursive: true });
      return writeTape(reader, { own, files }, id);
    };
    // records that others replace meanwhile are cleared away; read within one snapshot they stay
    const written = await attempt(store).catch((error: unknown) => {
      if (!isChangedMeanwhile(error)) throw error;
      return store.snapshot((rows) => attempt(readerOf(rows)));
    });
    if (written) contents.tapes.push(written);
    told(`${at + 1} of ${tapes.length}: ${name}`);
  }
  await writeFile(join(part, 'backup.json'), JSON.stringify(contents, undefined, 1));
  await rename(part, folder);
}

type Reader = Pick<Store, 'read' | 'readLasting' | 'snapshot'>;

/** All that is read within one snapshot. */
function readerOf(rows: Rows): Reader {
  const read = <Result>(work: (rows: Rows) => Promise<Result>) => work(rows);
  return { read, readLasting: read, snapshot: read };
}

const isChangedMeanwhile = (error: unknown): boolean =>
  error instanceof Refusal && error.problem.code === 'tape-changed';

async function writeTape(
  store: Reader,
  { own, files }: { own: string; files: BackupFiles },
  id: number,
): Promise<Contents['tapes'][number] | undefined> {
  const { row, tape, about } = await store.snapshot(async (rows) => {
    const about: PlainRow[][] = [];
    for (const table of TAPE_TABLES) about.push(await rowsOfTape(rows, table, id));
    return { row: await tapeRow(rows, id), tape: await tapeOfId(rows, id, true), about };
  });
  if (!row || !tape) return undefined; // deleted since
  await files.writeRows(join(own, 'tape.json'), [row]);
  for (const [at, table] of TAPE_TABLES.entries()) await files.writeRows(join(own, `${table}.json`), about[at]);
  const sums = new RecordSums();
  let waiting: RecordColumns[] = [];
  let count = 0;
  const write = async () => {
    if (waiting.length === 0) return;
    const table = recordTable(tape, waiting);
    await files.write(
      join(own, recordsFile(count++)),
      toParquet(table, () => undefined),
    );
    waiting = [];
  };
  for await (const chunk of chunksBetween(store, tape, -Infinity, Infinity)) {
    const columns = decodeChunk(chunk);
    sums.add(columns);
    waiting.push(columns);
    if (waiting.length === CHUNKS_OF_FILE) await write();
  }
  await write();
  return { id, name: row.name, rows: sums.rows, files: count, sha256: sums.whole };
}

/** Records under the names that they are stored by; words as they are written. */
function recordTable(tape: StoredTape, blocks: readonly RecordColumns[]): TableColumn[] {
  const wordsOf = new Map(tape.texts.map(({ column, words }) => [column, words]));
  return Object.keys(blocks[0]).map((name): TableColumn => {
    const values = joined(blocks.map((block) => block[name]));
    const words = wordsOf.get(name);
    if (words) return { name, kind: 'words', values, words };
    return { name, kind: name === 'time' ? 'instants' : 'numbers', values };
  });
}

function joined(columns: readonly Float64Array[]): Float64Array {
  const all = new Float64Array(columns.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const column of columns) {
    all.set(column, at);
    at += column.length;
  }
  return all;
}
