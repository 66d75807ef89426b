import { parseBarRule, printBarRule, type Precision } from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import { isSameCalendar } from '$lib/api/calendars';
import type { Hours, IntakeReport } from '$lib/api/tapes';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { encodeChunk } from '../chunks/tapeChunk';
import { priceColumnOf } from '@jaunty-ledger/files/records/recordReader';
import type { TextColumn } from '@jaunty-ledger/files/records/textColumns';
import { chunksBetween, partsBetween, recordsIn } from '../store/chunks';
import type { TapePart } from '../store/partRows';
import { GenerationWriter } from '../store/generations';
import type { Store } from '../store/store';
import { extendTape, findTape, insertLeftOut, replaceRecords } from '../store/tapes';
import type { StoredTape } from '../store/tapeRows';
import type { FileFacts, FileImport, IncomingTape } from './fileImport';
import type { PreparedTape } from './preparedTape';
import { mergeRecords, type Merged } from './mergeRecords';
import { SPARK_POINTS } from '@jaunty-ledger/files/records/recordWriter';

/** Prices of the merged stretch that are kept for the small picture. */
const MOST_PRICES = 5000;

/**
 * Adds the records of a further file to a tape. Those that the tape has already, at the same instant with the same values,
 * are not doubled; the others go to their place in time. Parts of the tape that the file does not reach stay as they are.
 * @throws {Refusal} where the file holds records of another kind, length or precision
 */
export async function preparedAppend(
  store: Store,
  file: FileImport,
  facts: FileFacts,
  incoming: IncomingTape,
  tape: StoredTape,
): Promise<PreparedTape> {
  refuseOtherRecords(tape, file, incoming);
  const found = incoming.writer.found();
  const { texts, inTermsOf } = textsOfBoth(tape, file.texts, file.mostWords);
  const parts = await store.read((rows) => partsBetween(rows, tape, -Infinity, Infinity));
  const isBefore = ({ lastAt }: TapePart) => lastAt < found.firstAt;
  const isAfter = ({ firstAt }: TapePart) => firstAt > found.lastAt;
  const touched = parts.filter((part) => !isBefore(part) && !isAfter(part));
  const generation = new GenerationWriter(store, file.now);
  try {
    for (const part of parts.filter(isBefore)) await generation.keep(part);
    const prices = new PriceSample(rowsOf(touched) + found.rows);
    const priceColumn = priceColumnOf(tape.kind);
    const merged = await mergeRecords(
      oldRecords(store, tape, touched),
      furtherRecords(incoming, inTermsOf),
      [...tape.columns, ...[...texts, ...tape.numbers].map(({ column }) => column)],
      async (columns) => {
        file.goOn();
        prices.add(columns[priceColumn]);
        const { decimals: _, ...chunk } = encodeChunk(columns, priceColumn);
        await generation.add(chunk);
      },
    );
    for (const part of parts.filter(isAfter)) await generation.keep(part);
    await generation.finish();
    const report = withDoubled(file.report(facts, incoming), merged.doubled);
    const grown = {
      rows: tape.rows + merged.added,
      flagged: tape.flagged + merged.flagged,
      firstAt: Math.min(tape.firstAt, found.firstAt),
      lastAt: Math.max(tape.lastAt, found.lastAt),
      priceDecimals: Math.max(tape.priceDecimals, found.priceDecimals),
      sizeDecimals: Math.max(tape.sizeDecimals, found.sizeDecimals),
      spark: sparkOf(tape, rowsOf(parts.filter(isBefore)), merged, prices),
      texts,
      report,
      sharedTimes: tape.sharedTimes ?? file.sharedTimesOf(report),
    };
    return {
      name: tape.name,
      discard: () => generation.discard(),
      enter: async (rows) => {
        const now = await findTape(rows, tape.name);
        if (now?.id !== tape.id || now.version !== tape.version) return false;
        await replaceRecords(rows, tape, generation.id, file.now);
        await extendTape(rows, tape, grown);
        await insertLeftOut(rows, tape.id, file.leftOut(incoming), tape.appended.length + 1);
        return true;
      },
    };
  } catch (error) {
    await generation.discard();
    throw error;
  }
}

/** @throws {Refusal} where records of a file do not go to a tape */
function refuseOtherRecords(tape: StoredTape, file: FileImport, incoming: IncomingTape): void {
  const [has, comes] = [
    shapeOf(tape.columns, [...tape.texts, ...tape.numbers]),
    shapeOf(file.ownColumns, [...file.texts, ...file.numbers]),
  ];
  if (has !== comes) throw refuse('invalid-body', `${tape.name} holds ${has}; the file has ${comes}.`);
  if (tape.precision !== file.precision)
    throw refuse(
      'invalid-body',
      `The times of ${tape.name} are told by ${WORDS[tape.precision]}, those of the file by ${WORDS[file.precision]}.`,
    );
  const { hours } = file;
  // weekdays that the file's query leaves open are those of the tape
  if (!isSameCalendar(tape, { ...hours, weekdays: hours.weekdays ?? tape.weekdays }))
    throw refuse(
      'invalid-body',
      `${tape.name} has another zone or other hours (${hoursText(tape)}) than the file is read by (${hoursText(file.hours)}). Give the file those of the tape.`,
    );
  const { interval } = incoming.writer.found(file.toldInterval);
  const known = tape.interval && printBarRule(parseBarRule(tape.interval));
  // a single bar does not tell how long it is
  if (interval !== known && (file.toldInterval !== undefined || incoming.writer.rows > 1))
    throw refuse(
      'invalid-body',
      `${tape.name} holds bars of ${tape.interval}; those of the file are of ${interval}. Where they are not, tell their length, with interval=${tape.interval}.`,
    );
}

const hoursText = ({ zone, session, weekdays, closed }: Hours): string =>
  [zone, session, weekdays?.join(','), closed?.length && `${closed.length} closed days`].filter(Boolean).join(' ');

const WORDS = {
  moment: 'the clock',
  day: 'the day',
  month: 'the month',
  quarter: 'the quarter',
  year: 'the year',
  period: 'a number',
} as const satisfies Record<Precision, string>;

const shapeOf = (columns: readonly string[], own: readonly { name: string }[]): string =>
  [...columns.filter((column) => column !== 'line' && column !== 'flags'), ...own.map(({ name }) => name).sort()].join(
    ', ',
  );

/** The text columns of a tape with the words of a file too, and what the records of the file are by them. */
function textsOfBoth({ texts: known, name: tape }: StoredTape, further: readonly TextColumn[], mostWords: number) {
  const changes: { from: string; to: string; codes: Float64Array }[] = [];
  const texts = known.map((text): TextColumn => {
    const other = further.find(({ name }) => name === text.name)!;
    const words = [...text.words];
    const places = new Map(words.map((word, at) => [word, at]));
    const codes = Float64Array.from(other.words, (word) => {
      const at = places.get(word) ?? words.push(word) - 1;
      places.set(word, at);
      return at;
    });
    if (words.length > mostWords)
      throw refuse(
        'too-many-words',
        `The column ${text.name} of ${tape} would have more than ${mostWords.toLocaleString('en')} different words.`,
      );
    changes.push({ from: other.column, to: text.column, codes });
    return { ...text, words };
  });
  const inTermsOf = (columns: RecordColumns): RecordColumns => {
    const changed = { ...columns };
    for (const { from, to, codes } of changes) changed[to] = columns[from].map((code) => codes[code]);
    return changed;
  };
  return { texts, inTermsOf };
}

async function* oldRecords(
  store: Store,
  tape: StoredTape,
  touched: readonly TapePart[],
): AsyncGenerator<RecordColumns> {
  const [first, last] = [touched[0], touched.at(-1)];
  if (!first || !last) return;
  for await (const chunk of chunksBetween(store, tape, -Infinity, Infinity, first.sequence)) {
    if (chunk.sequence > last.sequence) return;
    yield recordsIn(tape, chunk);
  }
}

async function* furtherRecords(
  { records }: IncomingTape,
  inTermsOf: (columns: RecordColumns) => RecordColumns,
): AsyncGenerator<RecordColumns> {
  for await (const block of records.read()) yield inTermsOf(block);
}

const rowsOf = (parts: readonly TapePart[]): number => parts.reduce((sum, { rows }) => sum + rows, 0);

/** Prices of some rows, evenly thinned out. */
class PriceSample {
  private readonly prices: number[] = [];
  private readonly step: number;
  private row = 0;

  constructor(mostRows: number) {
    this.step = Math.max(1, Math.ceil(mostRows / MOST_PRICES));
  }

  add(column: Float64Array): void {
    for (let row = 0; row < column.length; row++) if (this.row++ % this.step === 0) this.prices.push(column[row]);
  }

  at(row: number): number {
    return this.prices[Math.min(this.prices.length - 1, Math.floor(row / this.step))];
  }
}

/** The small picture anew: from the old one where the tape is as it was, from the prices where it was touched. */
function sparkOf({ spark, rows }: StoredTape, before: number, merged: Merged, prices: PriceSample): number[] {
  const whole = rows + merged.added;
  const points = Math.min(SPARK_POINTS, whole);
  const oldAt = (row: number) => spark[Math.min(spark.length - 1, Math.floor((row * spark.length) / rows))];
  return Array.from({ length: points }, (_, point) => {
    const row = Math.floor(((point + 1) * whole) / points) - 1;
    if (row < before) return oldAt(row);
    return row < before + merged.rows ? prices.at(row - before) : oldAt(row - merged.added);
  });
}

function withDoubled(report: IntakeReport, doubled: number): IntakeReport {
  if (doubled === 0) return report;
  const examples = [{ line: 1, says: 'in the tape already; not entered again' }];
  return {
    ...report,
    findings: [...report.findings, { id: 'repeat', count: doubled, treatment: 'leave-out', examples }],
  };
}
