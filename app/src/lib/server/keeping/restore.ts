import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { priceColumnOf } from '@jaunty-ledger/files/records/recordReader';
import { fromParquet } from '@jaunty-ledger/files/tables/parquetTable';
import { CHUNK_ROWS, encodeChunk } from '../chunks/tapeChunk';
import { GenerationWriter } from '../store/generations';
import type { Store } from '../store/store';
import type { StoredTape } from '../store/tapeRows';
import { allTapes, OTHER_TABLES, putTape, RecordSums, replaceRows, TAPE_TABLES, type TapeRow } from '../store/whole';
import { BackupFiles, Contents, lastTables, recordsFile, tableFile, tapeFolder } from './backupFiles';
import { KeepingError, type Told } from './keepingError';

/**
 * Puts a backup into a store that holds nothing, and reads every record against the sum that it was written with. Where it was
 * broken off it goes on.
 * @throws {KeepingError} where the folder is no backup, a file of it is not what was written, or the store holds something
 */
export async function restore(folder: string, store: Store, told: Told): Promise<void> {
  const contents = await contentsOf(folder);
  const files = new BackupFiles(folder, contents.sums);
  const known = new Map(contents.tapes.map((tape) => [tape.id, tape]));
  const there = await store.read(allTapes);
  for (const { id, name } of there)
    if (known.get(id)?.name !== name)
      throw new KeepingError(`The store holds ${name}, which the backup does not. Take an empty one.`);
  const entered = new Map(there.map((tape) => [tape.id, tape]));
  for (const [at, tape] of contents.tapes.entries()) {
    const own = tapeFolder(tape.id);
    const [row] = (await files.readRows(join(own, 'tape.json'))) as TapeRow[];
    if (entered.get(tape.id)?.version !== row.version) await restoreTape(store, { own, files }, row, tape);
    told(`${at + 1} of ${contents.tapes.length}: ${tape.name}, ${tape.rows.toLocaleString('en')} records`);
  }
  for (const table of OTHER_TABLES) {
    const list = await files.readRows(tableFile(table));
    await store.write((rows) => replaceRows(rows, table, list));
  }
}

async function contentsOf(folder: string): Promise<Contents> {
  let contents: Contents;
  try {
    contents = Contents.parse(JSON.parse(await readFile(join(folder, 'backup.json'), 'utf8')));
  } catch (error) {
    throw new KeepingError(`${folder} is no whole backup: it needs a readable backup.json.`, { cause: error });
  }
  if (contents.tables !== (await lastTables()))
    throw new KeepingError(
      `The backup was made with other tables (${contents.tables}). Restore it with the version that made it.`,
    );
  return contents;
}

async function restoreTape(
  store: Store,
  { own, files }: { own: string; files: BackupFiles },
  row: TapeRow,
  told: Contents['tapes'][number],
): Promise<void> {
  const texts = JSON.parse(String(row.texts)) as StoredTape['texts'];
  const placeOf = new Map(texts.map(({ column, words }) => [column, new Map(words.map((word, at) => [word, at]))]));
  const generation = new GenerationWriter(store, Date.now() * 1000);
  const sums = new RecordSums();
  try {
    for (let file = 0; file < told.files; file++) {
      const columns = await recordsOf(await files.read(join(own, recordsFile(file))), placeOf);
      sums.add(columns);
      for (let from = 0; from < columns.time.length; from += CHUNK_ROWS) {
        const some = Object.entries(columns).map(([name, column]) => [name, column.slice(from, from + CHUNK_ROWS)]);
        const block = Object.fromEntries(some) as RecordColumns;
        const { decimals: _, ...chunk } = encodeChunk(block, priceColumnOf(String(row.kind) as StoredTape['kind']));
        await generation.add(chunk);
      }
    }
    await generation.finish();
    if (sums.rows !== told.rows || sums.whole !== told.sha256)
      throw new KeepingError(`The records of ${told.name} are not those that were written: a file of it is damaged.`);
    const [left_out_file, feed_sender] = await Promise.all(
      TAPE_TABLES.map((table) => files.readRows(join(own, `${table}.json`))),
    );
    await putTape(store, row, generation, { left_out_file, feed_sender });
  } catch (error) {
    await generation.discard();
    throw error;
  }
}

/** The columns of a file of records. */
async function recordsOf(
  bytes: Uint8Array,
  placeOf: ReadonlyMap<string, ReadonlyMap<string, number>>,
): Promise<RecordColumns> {
  return Object.fromEntries(
    [...(await fromParquet(bytes))].map(([name, cells]) => {
      const places = placeOf.get(name);
      const value = (cell: number | string | null): number =>
        cell === null ? NaN : places ? (places.get(String(cell)) ?? NaN) : Number(cell);
      return [name, Float64Array.from(cells, value)];
    }),
  ) as RecordColumns;
}
