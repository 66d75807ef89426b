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
import type { FileLimits } from '@jaunty-ledger/files/fileLimits';
import { FileCopy } from '@jaunty-ledger/files/formats/fileCopy';
import { requireReadable } from '@jaunty-ledger/files/reading/requireReadable';
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
  requireReadable(findings, reader!, lines, source.checks.unreadable === 'leave-out');
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

/**
 * Reads a file as it comes, where its records are in order; else once more, with all of them kept so that they can be sorted.
 * Standard input comes once, so it is laid down on the way.
 */
async function inOrderOrKept<Result>(
  source: Source,
  progress: Progress,
  asItComes: (bytes: AsyncIterable<Uint8Array>, scratch: Scratch) => Promise<Result>,
  kept: (bytes: AsyncIterable<Uint8Array>, scratch: Scratch) => Promise<Result>,
): Promise<Result> {
  const scratch = new Scratch();
  try {
    const bytes = bytesOf(source.file, progress);
    const copy = source.file === '-' ? await scratch.copy() : undefined;
    try {
      return await asItComes(copy?.keep(bytes) ?? bytes, scratch);
    } catch (error) {
      if (!(error instanceof OutOfOrder)) throw error;
    }
    return await kept(copy?.again() ?? bytesOf(source.file, progress), scratch);
  } finally {
    await scratch.close();
  }
}

/** What is in a file: its reading, its instruments, and what checks find. */
export const checkFile = (source: Source, progress: Progress): Promise<ReadTape[]> =>
  inOrderOrKept(
    source,
    progress,
    (bytes, scratch) => readInto(source, bytes, scratch, () => new PassedOn(() => undefined)),
    (bytes, scratch) => readInto(source, bytes, scratch, () => new Kept()),
  );

/** Bars of a file's records, and what was read. */
export interface FileBars {
  tape: ReadTape;
  bars: BuiltBars;
  calendar: Calendar;
}

/**
 * Cuts the records of a file.
 * @throws {FileError | CommandError} where it cannot be read, or holds several instruments and none is chosen
 */
export async function barsOfFile(
  source: Source,
  { rule: text, flagged }: { rule: string; flagged: boolean },
  progress: Progress,
): Promise<FileBars> {
  const rule = parseBarRule(text);
  const calendar = makeCalendar(source.calendar);
  const cutter = () => {
    const builder = new BarBuilder(rule, calendar, new BuildCourse());
    const add = (
      block: RecordColumns,
      { texts, numbers }: RecordReader,
      kind: Reading['kind'],
      interval: string | null,
    ) => {
      const about = { kind, interval, texts, numbers };
      const records = coreRecords(about, flagged ? block : withoutFlagged(block), () => calendar);
      if ('open' in records) refuseFinerThan(records, rule);
      builder.add(records);
    };
    return { add, finish: () => builder.finish() };
  };
  const isWanted = (title: string) => source.tape === undefined || title === '' || title === source.tape;
  /** Reads and cuts; records that are bars are kept in any case: how long they are is told only by all of them. */
  const read = async (bytes: AsyncIterable<Uint8Array>, scratch: Scratch, keepsAll: boolean) => {
    const kept = new Map<string, Kept>();
    const { add, finish } = cutter();
    const tapes = await readInto(source, bytes, scratch, (title, { kind }, reader) => {
      if (!keepsAll && kind !== 'bars')
        return new PassedOn((block) => isWanted(title) && add(block, reader(), kind, null));
      const keep = new Kept();
      kept.set(title, keep);
      return keep;
    });
    const tape = chosen(tapes, source);
    for (const block of (kept.get('') ?? kept.get(tape.name))?.blocks ?? [])
      add(block, tape.reader, tape.reading.kind, tape.found.interval);
    return { tape, bars: finish() };
  };
  const found = await inOrderOrKept(
    source,
    progress,
    (bytes, scratch) => read(bytes, scratch, false),
    (bytes, scratch) => read(bytes, scratch, true),
  );
  const { leftOutCount } = found.tape.findings;
  if (leftOutCount > 0)
    progress.note(
      `${leftOutCount.toLocaleString('en')} ${leftOutCount === 1 ? 'line was' : 'lines were'} left out; \`jaunty check\` tells which`,
    );
  return { ...found, calendar };
}

/** The one instrument that is asked for. @throws {CommandError} where there are several, or no such */
function chosen(tapes: readonly ReadTape[], { tape: name }: Source): ReadTape {
  const wanted = tapes.filter((one) => name === undefined || tapes.length === 1 || one.name === name);
  if (wanted.length === 1) return wanted[0];
  const names = tapes.map((one) => one.name).join(', ');
  throw new CommandError(
    wanted.length === 0
      ? `There is no instrument ${name}; the file holds ${names}.`
      : `The file holds several instruments (${names}); choose one with --tape.`,
  );
}

function withoutFlagged(columns: RecordColumns): RecordColumns {
  const { flags } = columns;
  if (flags.every((one) => one === 0)) return columns;
  return Object.fromEntries(
    Object.entries(columns).map(([name, column]) => [name, column.filter((_, row) => flags[row] === 0)]),
  ) as RecordColumns;
}
