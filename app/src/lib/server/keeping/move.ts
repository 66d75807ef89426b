import { chunksBetween } from '../store/chunks';
import { GenerationWriter } from '../store/generations';
import type { Store } from '../store/store';
import { tapeOfId } from '../store/tapes';
import {
  allRows,
  allTapes,
  OTHER_TABLES,
  putTape,
  replaceRows,
  rowsOfTape,
  sumOfTape,
  tapeMark,
  tapeRow,
} from '../store/whole';
import { KeepingError, type Told } from './keepingError';

/**
 * Carries everything that is kept from one store to another, and reads every record there once more to see that it is the
 * same. Where it was broken off it goes on with the tapes that are not there yet.
 * @throws {KeepingError} where the other store holds something else, or records differ
 */
export async function moveStore(from: Store, to: Store, told: Told): Promise<void> {
  const tapes = await from.read(allTapes);
  await refuseOthers(to, tapes);
  for (const [at, tape] of tapes.entries()) {
    const [here, there] = await Promise.all([from, to].map((store) => store.read((rows) => tapeMark(rows, tape.id))));
    const share = `${at + 1} of ${tapes.length}`;
    if (here === there) {
      told(`${share}: ${tape.name} is there already`);
      continue;
    }
    const records = await moveTape(from, to, tape.id);
    told(`${share}: ${tape.name}, ${records.toLocaleString('en')} records`);
  }
  for (const table of OTHER_TABLES) {
    const list = await from.read((rows) => allRows(rows, table));
    await to.write((rows) => replaceRows(rows, table, list));
    told(`${table}: ${list.length}`);
  }
  for (const { id, name } of tapes) await compare(from, to, id, name);
  told(`The records of ${tapes.length} tapes were read on both sides, and are the same.`);
}

async function refuseOthers(to: Store, tapes: readonly { id: number; name: string }[]): Promise<void> {
  const known = new Map(tapes.map(({ id, name }) => [id, name]));
  for (const { id, name } of await to.read(allTapes))
    if (known.get(id) !== name)
      throw new KeepingError(`The store to move to holds ${name}, which is not of the other one. Take an empty one.`);
  if (tapes.length > 0) return;
  for (const table of OTHER_TABLES)
    if ((await to.read((rows) => allRows(rows, table))).length > 0)
      throw new KeepingError('The store to move to holds something already. Take an empty one.');
}

/** @returns how many records it has */
async function moveTape(from: Store, to: Store, id: number): Promise<number> {
  const [row, tape] = await from.read(async (rows) => [(await tapeRow(rows, id))!, (await tapeOfId(rows, id, true))!]);
  const generation = new GenerationWriter(to, Date.now() * 1000);
  for await (const { sequence: _, chunk: __, ...chunk } of chunksBetween(from, tape, -Infinity, Infinity))
    await generation.add(chunk);
  await generation.finish();
  const about = {
    left_out_file: await from.read((rows) => rowsOfTape(rows, 'left_out_file', id)),
    feed_sender: await from.read((rows) => rowsOfTape(rows, 'feed_sender', id)),
  };
  await putTape(to, row, generation, about);
  return row.rows;
}

async function compare(from: Store, to: Store, id: number, name: string): Promise<void> {
  const [here, there] = await Promise.all(
    [from, to].map(async (store) => sumOfTape(store, (await store.read((rows) => tapeOfId(rows, id, true)))!)),
  );
  if (here !== there) throw new KeepingError(`The records of ${name} differ on the two sides. Move them again.`);
}
