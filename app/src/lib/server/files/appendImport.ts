import { refuse } from '$lib/api/problems';
import type { Tape } from '$lib/api/tapes';
import { CHUNK_ROWS, decodeChunk, encodeChunk, type RecordColumns, type TapeChunk } from '../chunks/tapeChunk';
import { chunksBetween, deleteChunksFrom, insertChunks, recordsIn } from '../store/chunks';
import type { Store } from '../store/connection';
import { extendTape, findTape, insertLeftOut, type StoredTape } from '../store/tapes';
import type { FileFacts, FileImport } from './fileImport';
import { priceColumnOf } from './recordReader';
import { SPARK_POINTS } from './tapeWriter';

/**
 * Adds the records of a further file to a tape. Those that the tape has already, at the same instant with the same values,
 * are not doubled; the others go to their place in time.
 * @throws {Refusal} where there is no such tape, or the file holds records of another kind
 */
export async function appendImport(db: Store, file: FileImport, name: string, facts: FileFacts): Promise<string[]> {
  await db.transaction(async (transaction) => {
    const tape = await findTape(transaction, name);
    if (!tape) throw refuse('unknown-tape', `No tape is called ${name}.`);
    const [incoming, ...others] = file.tapes;
    const { writer, spool } = incoming;
    const isSame = writer.columns.join() === tape.columns.join();
    if (others.length > 0 || !isSame)
      throw refuse(
        'invalid-body',
        `${name} holds ${dataColumns(tape.columns)}; the file has ${others.length > 0 ? 'several instruments' : dataColumns(writer.columns)}.`,
      );
    const { words, inTermsOf } = wordsOfBoth(tape.words, file.words);
    const added: RecordColumns[] = [];
    for await (const chunk of spool.read()) added.push(inTermsOf(decodeChunk(chunk)));
    const firstAt = added[0].time[0];
    const kept: (TapeChunk & { sequence: number })[] = [];
    for await (const chunk of chunksBetween(transaction, tape.id, firstAt, Infinity)) kept.push(chunk);
    const merged = mergeRecords(
      kept.map((chunk) => recordsIn(tape, chunk)),
      added,
      tape.columns,
    );
    const from = kept[0]?.sequence ?? (await deleteChunksFrom(transaction, tape.id, Infinity));
    await deleteChunksFrom(transaction, tape.id, from);
    const rows = merged.columns.time.length;
    await insertChunks(transaction, tape.id, from, chunksOf(merged.columns, priceColumnOf(tape.kind)));
    const report = file.report(facts, incoming);
    if (merged.doubled > 0)
      report.findings.push({
        id: 'repeat',
        count: merged.doubled,
        treatment: 'leave-out',
        examples: [{ line: 1, says: 'in the tape already; not entered again' }],
      });
    const before = tape.rows - kept.reduce((sum, chunk) => sum + chunk.rows, 0);
    await extendTape(transaction, tape, {
      rows: tape.rows + merged.added,
      spark: sparkOf(tape, before, merged.columns[priceColumnOf(tape.kind)]),
      flagged: tape.flagged + merged.flagged,
      firstAt: Math.min(tape.firstAt, firstAt),
      lastAt: Math.max(tape.lastAt, merged.columns.time[rows - 1] ?? tape.lastAt),
      words,
      report,
    });
    await insertLeftOut(transaction, tape.id, file.leftOut(incoming), tape.appended.length + 1);
  });
  return [name];
}

/** The words of a tape and of a file together, and what the codes of the file's records become by them. */
function wordsOfBoth(known: Tape['words'], further: Tape['words']) {
  const words = Object.fromEntries(Object.entries(known).map(([name, list]) => [name, [...list]]));
  const codes = new Map<string, Float64Array>();
  for (const [name, list] of Object.entries(further)) {
    const all = (words[name] ??= []);
    const places = new Map(all.map((word, at) => [word, at]));
    const placeOf = (word: string) => {
      const at = places.get(word) ?? all.push(word) - 1;
      places.set(word, at);
      return at;
    };
    codes.set(name, Float64Array.from(list, placeOf));
  }
  const inTermsOf = (columns: RecordColumns): RecordColumns => {
    const changed = { ...columns };
    for (const [name, code] of codes) changed[name] = columns[name].map((old) => code[old]);
    return changed;
  };
  return { words, inTermsOf };
}

function* chunksOf(columns: RecordColumns, priceColumn: string): Generator<TapeChunk> {
  for (let row = 0; row < columns.time.length; row += CHUNK_ROWS) {
    const part = Object.fromEntries(
      Object.entries(columns).map(([name, values]) => [name, values.slice(row, row + CHUNK_ROWS)]),
    ) as RecordColumns;
    yield encodeChunk(part, priceColumn);
  }
}

/** The small picture anew: of the rows before the ones that were touched it is thinned out, the others are at hand. */
function sparkOf({ spark, rows }: StoredTape, before: number, prices: Float64Array): number[] {
  const whole = before + prices.length;
  const points = Math.min(SPARK_POINTS, whole);
  return Array.from({ length: points }, (_, i) => {
    const row = Math.floor(((i + 1) * whole) / points) - 1;
    return row < before ? spark[Math.floor((row * spark.length) / rows)] : prices[row - before];
  });
}

const dataColumns = (columns: readonly string[]): string =>
  columns.filter((column) => column !== 'line' && column !== 'flags').join(', ');

/** Old records and new ones in order of time, each that both have once. */
function mergeRecords(old: RecordColumns[], added: RecordColumns[], names: readonly string[]) {
  const key = (part: RecordColumns, row: number) =>
    names
      .filter((name) => name !== 'line' && name !== 'flags')
      .map((name) => part[name][row])
      .join();
  const known = new Map<string, number>();
  const places: { part: RecordColumns; row: number }[] = [];
  for (const part of old)
    for (let row = 0; row < part.time.length; row++) {
      known.set(key(part, row), (known.get(key(part, row)) ?? 0) + 1);
      places.push({ part, row });
    }
  let doubled = 0;
  let flagged = 0;
  const oldRows = places.length;
  for (const part of added)
    for (let row = 0; row < part.time.length; row++) {
      const count = known.get(key(part, row)) ?? 0;
      if (count > 0) {
        known.set(key(part, row), count - 1);
        doubled++;
        continue;
      }
      if (part.flags[row] !== 0) flagged++;
      places.push({ part, row });
    }
  const order = Uint32Array.from(places.keys()).sort(
    (a, b) => places[a].part.time[places[a].row] - places[b].part.time[places[b].row] || a - b,
  );
  const columns = Object.fromEntries(
    names.map((name) => [name, Float64Array.from(order, (at) => places[at].part[name][places[at].row])]),
  ) as RecordColumns;
  return { columns, doubled, flagged, added: places.length - oldRows };
}
