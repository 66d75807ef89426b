import { createReadStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import {
  BarBuilder,
  BuildCourse,
  makeCalendar,
  parseBarRule,
  refuseFinerThan,
  type BuiltBars,
  type Calendar,
  type CalendarOptions,
} from '@jaunty-ledger/core';
import type { Treatments } from '@jaunty-ledger/files/checks/checks';
import { Findings } from '@jaunty-ledger/files/checks/findings';
import { FileError } from '@jaunty-ledger/files/fileError';
import type { FileLimits } from '@jaunty-ledger/files/fileLimits';
import { FileCopy } from '@jaunty-ledger/files/formats/fileCopy';
import { readRecords } from '@jaunty-ledger/files/reading/readRecords';
import type { Reading, ReadingChoices } from '@jaunty-ledger/files/reading/reading';
import { coreRecords } from '@jaunty-ledger/files/records/coreRecords';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { RecordReader } from '@jaunty-ledger/files/records/recordReader';
import {
  RecordWriter,
  type Decimals,
  type FoundInRecords,
  type RecordKeep,
} from '@jaunty-ledger/files/records/recordWriter';
import { CommandError } from './errors';
import type { Progress } from './progress';

const LIMITS: FileLimits = { uploadMegabytes: 1 << 20, growth: 1000, columns: 1000, words: 100_000 };

/** Where records come from, and how they are read. */
export interface Source {
  /** A path; `-` for standard input. */
  file: string;
  choices: ReadingChoices;
  calendar: CalendarOptions;
  /** Length of records that are bars, where it is told. */
  interval?: string;
  checks: Treatments;
  /** Which of several instruments. */
  tape?: string;
}

/** What was read of one instrument. */
export interface ReadTape {
  name: string;
  reading: Reading;
  lines: number;
  found: FoundInRecords;
  findings: Findings;
  reader: RecordReader;
}

/** Records that come in an order of their own have to be kept, to be sorted. */
class OutOfOrder extends Error {}

/** Hands records on as they come, and keeps none. */
class PassedOn implements RecordKeep {
  constructor(private readonly take: (columns: RecordColumns) => void) {}

  add(columns: RecordColumns): Promise<Decimals> {
    this.take(columns);
    return Promise.resolve(NO_DECIMALS);
  }
  // eslint-disable-next-line require-yield -- there is nothing to give
  async *read(): AsyncGenerator<RecordColumns> {
    throw new OutOfOrder();
  }
  restart(): void {
    throw new OutOfOrder();
  }
}

/** Places that nobody asks for. */
const NO_DECIMALS: Decimals = { price: 0, size: 0, bid: 0, bidSize: 0, close: 0, volume: 0 };

/** Keeps all records. */
class Kept implements RecordKeep {
  blocks: RecordColumns[] = [];

  add(columns: RecordColumns): Promise<Decimals> {
    this.blocks.push(
      Object.fromEntries(Object.entries(columns).map(([name, column]) => [name, column.slice()])) as RecordColumns,
    );
    return Promise.resolve(NO_DECIMALS);
  }
  async *read(): AsyncGenerator<RecordColumns> {
    yield* this.blocks;
  }
  restart(): void {
    this.blocks = [];
  }
}

/** A folder for what standard input brought, while it is read. */
class Scratch {
  private folder: string | undefined;
  private readonly copies: FileCopy[] = [];

  async copy(): Promise<FileCopy> {
    this.folder ??= mkdtempSync(join(tmpdir(), 'jaunty-'));
    const copy = await FileCopy.open(this.folder);
    this.copies.push(copy);
    return copy;
  }

  async close(): Promise<void> {
    for (const copy of this.copies) await copy.close();
    if (this.folder) rmSync(this.folder, { recursive: true, force: true });
  }
}

/** Reads a file, each instrument into a keep of its own. */
async function readInto(
  source: Source,
  bytes: AsyncIterable<Uint8Array>,
  scratch: Scratch,
  keepOf: (name: string, reading: Reading, reader: () => RecordReader) => RecordKeep,
): Promise<ReadTape[]> {
  const calendar = makeCalendar(source.calendar);
  const findings = new Findings(source.checks);
  const writers = new Map<string, RecordWriter>();
  let reader: RecordReader;
  let reading: Reading;
  const sinkOf = (title: string) => {
    const known = writers.get(title);
    if (known) return known;
    const { kind } = reading;
    const options = {
      kind,
      calendar,
      findings: findings.anew(),
      columns: RecordReader.columnsOf(reading),
      now: Date.now() * 1000,
    };
    const writer = new RecordWriter(
      options,
      keepOf(title, reading, () => reader),
    );
    writers.set(title, writer);
    return writer;
  };
  const { lines } = await readRecords(bytes, {
    choices: source.choices,
    limits: LIMITS,
    start: (found) => {
      reading = found;
      return (reader = new RecordReader(found, calendar, findings, sinkOf, LIMITS.words));
    },
    between: async () => {
      for (const writer of writers.values()) await writer.flush();
    },
    layDown: () => scratch.copy(),
    isReadAgain: () => false,
  });
  if (reader!.rows === 0) {
    const [example] = findings.examplesOf('unreadable');
    if (example)
      throw new FileError('unreadable-lines', `No line could be read: ${example.says}.`, { line: example.line });
    throw new FileError('empty-file', 'The file has no records.');
  }
  for (const writer of writers.values()) await writer.finish();
  return [...writers].map(([title, writer]) => ({
    ...{ name: title === '' ? tapeName(source.file) : title, reading, lines, reader },
    found: writer.found(source.interval),
    findings: findings.with(writer.findings),
  }));
}

/** The name that a file gives its tape. */
export const tapeName = (file: string): string =>
  file === '-' ? 'input' : basename(file).replace(/(\.[a-z]\w*)+$/i, '') || 'file';

/** The bytes of a file, in blocks that are large enough. */
function bytesOf(file: string, progress: Progress): AsyncIterable<Uint8Array> {
  if (file === '-') return progress.over(process.stdin, undefined);
  const { size } = statSync(file);
  return progress.over(createReadStream(file, { highWaterMark: 1 << 18 }), size);
}

/** What is in a file: its reading, its instruments, and what checks find. */
export async function checkFile(source: Source, progress: Progress): Promise<ReadTape[]> {
  const scratch = new Scratch();
  try {
    const bytes = bytesOf(source.file, progress);
    return await readInto(source, bytes, scratch, () => new Kept());
  } finally {
    await scratch.close();
  }
}

/** Bars of a file's records, and what was read. */
export interface FileBars {
  tape: ReadTape;
  bars: BuiltBars;
  calendar: Calendar;
}

/**
 * Cuts the records of a file as they are read, without keeping them; a file that is out of order is read once more.
 * @throws {FileError | CommandError} where it cannot be read, or holds several instruments and none is chosen
 */
export async function barsOfFile(
  source: Source,
  { rule: text, flagged }: { rule: string; flagged: boolean },
  progress: Progress,
): Promise<FileBars> {
  const rule = parseBarRule(text);
  const calendar = makeCalendar(source.calendar);
  const scratch = new Scratch();
  const chosen = (title: string) => source.tape === undefined || title === '' || title === source.tape;
  const build = (tapes: ReadTape[], blocks: Iterable<RecordColumns>): BuiltBars => {
    const builder = new BarBuilder(rule, calendar, new BuildCourse());
    const { reader, reading, found } = tapes[0];
    for (const block of blocks) addTo(builder, block, reader, reading, found.interval);
    return builder.finish();
  };
  const addTo = (
    builder: BarBuilder,
    block: RecordColumns,
    reader: RecordReader,
    reading: Reading,
    interval: string | null,
  ) => {
    const about = { kind: reading.kind, interval, texts: reader.texts, numbers: reader.numbers };
    const records = coreRecords(about, flagged ? block : withoutFlagged(block), () => calendar);
    if ('open' in records) refuseFinerThan(records, rule);
    builder.add(records);
  };
  const one = (tapes: ReadTape[]): ReadTape => {
    const wanted = tapes.filter(({ name }) => source.tape === undefined || tapes.length === 1 || name === source.tape);
    if (wanted.length === 1) return wanted[0];
    const names = tapes.map(({ name }) => name).join(', ');
    throw new CommandError(
      wanted.length === 0
        ? `There is no instrument ${source.tape}; the file holds ${names}.`
        : `The file holds several instruments (${names}); choose one with --tape.`,
    );
  };
  try {
    const copy = source.file === '-' ? await scratch.copy() : undefined;
    const builder = new BarBuilder(rule, calendar, new BuildCourse());
    const kept = new Map<string, Kept>();
    let bytes = bytesOf(source.file, progress);
    if (copy) bytes = copy.keep(bytes);
    try {
      // bars are told how long they are only by all of them
      const tapes = await readInto(source, bytes, scratch, (title, reading, reader) => {
        if (reading.kind !== 'bars' && chosen(title) && (kept.size === 0 || source.tape !== undefined))
          return new PassedOn((block) => addTo(builder, block, reader(), reading, null));
        const keep = new Kept();
        kept.set(title, keep);
        return keep;
      });
      const tape = one(tapes);
      const title = kept.has('') ? '' : tape.name;
      const bars = kept.has(title) ? build([tape], kept.get(title)!.blocks) : builder.finish();
      return { tape, bars, calendar };
    } catch (error) {
      if (!(error instanceof OutOfOrder)) throw error;
    }
    const again = copy ? copy.again() : bytesOf(source.file, progress);
    const all = new Map<string, Kept>();
    const tapes = await readInto(source, again, scratch, (title) => {
      const keep = new Kept();
      all.set(title, keep);
      return keep;
    });
    const tape = one(tapes);
    return { tape, bars: build([tape], (all.get('') ?? all.get(tape.name))!.blocks), calendar };
  } finally {
    await scratch.close();
  }
}

function withoutFlagged(columns: RecordColumns): RecordColumns {
  const { flags } = columns;
  if (flags.every((one) => one === 0)) return columns;
  return Object.fromEntries(
    Object.entries(columns).map(([name, column]) => [name, column.filter((_, row) => flags[row] === 0)]),
  ) as RecordColumns;
}
