import { makeCalendar, parseBarRule, printBarRule, rfc3339, type Calendar, type Precision } from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import { isDelimited, type Reading, type ReadingChoices } from '@jaunty-ledger/files/reading/reading';
import { calendarOptions, type Hours, type ImportQuery, type IntakeReport } from '$lib/api/tapes';
import { openFileText } from '@jaunty-ledger/files/formats/fileText';
import { openColumnar, readColumnar } from '@jaunty-ledger/files/formats/columnarRows';
import { asUtf8 } from '@jaunty-ledger/files/formats/decoding';
import { DelimitedRows, type RowSource } from '@jaunty-ledger/files/formats/delimitedRows';
import { Findings, LeftOutRoom, type LeftOutLine } from '@jaunty-ledger/files/checks/findings';
import { JsonLines, JsonValue, MOST_COLUMN_BYTES } from '@jaunty-ledger/files/formats/jsonRows';
import { LinePicker } from '@jaunty-ledger/files/formats/linePicker';
import { proposeReading, requireDecided, requireUsable } from '@jaunty-ledger/files/reading/proposeReading';
import { turned } from '@jaunty-ledger/files/reading/across';
import { nameOfColumn, plainName } from '@jaunty-ledger/files/reading/roles';
import { ORDERED_CHECKS } from '@jaunty-ledger/files/checks/recordChecks';
import { RecordReader, type LineTaker } from '@jaunty-ledger/files/records/recordReader';
import type { NumberColumn, TextColumn } from '@jaunty-ledger/files/records/textColumns';
import type { Limits } from '../limits';
import type { NewTape } from '../store/tapes';
import { FileCopy } from './fileCopy';
import { ImportSpool } from './tapeSpool';
import { TapeWriter } from './tapeWriter';

/** Bytes that the reading is proposed from. */
const SAMPLE_BYTES = 1 << 18;
/** Bytes of records that wait for full chunks, of all tapes of a file; beyond them smaller chunks are written. */
const MOST_WAITING_BYTES = 64 << 20;
/** Where more of the lines cannot be read, the reading is more likely wrong than the lines; unless one says so. */
const MOST_UNREADABLE = 0.1;

/** A tape on its way: its name, its records, and what was found in them. */
export interface IncomingTape {
  name: string;
  writer: TapeWriter;
}

export interface FileFacts {
  bytes: number;
  sha256: string;
}

/** Told how many records there are so far, and of bytes that are read through: nothing of them is held on to. */
export type Taken = (rows: number, through?: Uint8Array) => void;

/** Reads one file into tapes. Nothing of it is in the store until they are entered, and nothing is left elsewhere after `close`. */
export class FileImport {
  readonly tapes: IncomingTape[] = [];
  readonly findings: Findings;
  rows = 0;
  private readonly calendar: Calendar;
  private records: RecordReader | undefined;
  private reading: Reading | undefined;
  private lines = 0;
  /** The file, where lines may be asked for that were read long ago. */
  private copy: FileCopy | undefined;
  private picked = new LinePicker(new Set());
  private readonly spool: ImportSpool;

  /** @param goOn  called between stretches of long work; it may throw to stop */
  constructor(
    private readonly folder: string,
    private readonly query: ImportQuery,
    private readonly choices: ReadingChoices,
    readonly now: number,
    private readonly limits: Limits,
    readonly goOn: () => void = () => undefined,
  ) {
    this.spool = new ImportSpool(folder);
    this.calendar = makeCalendar(calendarOptions({ ...query, zone: query.zone ?? 'UTC' }));
    this.findings = new Findings(query.checks ?? {});
  }

  /**
   * Reads the whole file.
   * @param taken  told after each stretch, with the records so far; what it throws ends the reading
   * @throws {Refusal} where it cannot be read
   */
  async read(file: AsyncIterable<Uint8Array>, taken: Taken): Promise<void> {
    const text = await openFileText(file, this.unpacking, this.choices.sheet);
    const plain = text.chunks[Symbol.asyncIterator]();
    const choices = { ...this.choices, ...text.own };
    let sample = await sampleOf(plain, SAMPLE_BYTES);
    if (sample.length === 0)
      throw refuse(
        'empty-file',
        'The file is empty. Drop one with a line for each record, such as 2026-02-02T08:30:00Z,84.20,15.',
      );
    const isColumnar = /^(PAR1|ARROW1|\xff\xff\xff\xff)/.test(new TextDecoder('latin1').decode(sample.subarray(0, 8)));
    if (isColumnar) return this.readColumnar(sample, plain, taken);
    let proposal = await proposeReading(sample, choices, this.limits, sample.length < SAMPLE_BYTES);
    if (proposal.reading.layout !== 'rows' && sample.length >= SAMPLE_BYTES) {
      // the second column, or the last item, may begin beyond what was looked at
      sample = await sampleOf(plain, MOST_COLUMN_BYTES, sample);
      proposal = await proposeReading(sample, choices, this.limits, true);
    }
    const { reading, names } = proposal;
    requireDecided(proposal);
    const records = this.start(reading, names);
    const readLines = async (
      chunks: AsyncIterable<Uint8Array>,
      taker: LineTaker,
      between: (through: Uint8Array) => Promise<void>,
    ) => {
      const rows: RowSource = isDelimited(reading.format)
        ? new DelimitedRows(reading, taker)
        : reading.format === 'json'
          ? new JsonValue(taker, names, reading)
          : new JsonLines(taker, names);
      // what was turned is UTF-8 already
      const encoding = reading.layout === 'across' ? 'utf-8' : reading.encoding;
      for await (const chunk of asUtf8(chunks, encoding)) {
        await rows.push(chunk);
        this.lines = rows.lines;
        await between(chunk);
      }
      await rows.end();
      this.lines = rows.lines;
    };
    const whole =
      reading.layout === 'across' ? turnedText(withFirst(sample, plain), reading) : withFirst(sample, plain);
    if (this.mayAskForLines) this.copy = await FileCopy.open(this.folder);
    await readLines(this.copy?.keep(whole) ?? whole, records, (through) => this.between(taken, through));
    await this.finish((picker) => readLines(this.copy!.again(), picker, async () => taken(this.rows)));
  }

  /** Checks that look at records in their order find a line when it is read and gone. */
  private get mayAskForLines(): boolean {
    return ORDERED_CHECKS.some((id) => this.findings.treatmentOf(id) === 'leave-out');
  }

  /** Facts of the import, kept with each tape. */
  report({ bytes, sha256 }: FileFacts, { writer }: IncomingTape): IntakeReport {
    const { lines } = this;
    const findings = this.findings.with(writer.findings);
    return {
      file: this.query.file ?? '',
      bytes,
      sha256,
      lines,
      reading: this.reading ?? null,
      findings: findings.list(),
      leftOutCount: findings.leftOutCount,
      enteredAt: rfc3339(this.now),
    };
  }

  /** Lines of the file, and of one tape of it, that were left out. */
  leftOut({ writer }: IncomingTape): LeftOutLine[] {
    // what was left out of the file is kept with each of its tapes, so they share the room
    const { leftOut } = writer.findings.with(this.findings, new LeftOutRoom(this.tapes.length));
    return this.picked.completed(leftOut).sort((a, b) => a.line - b.line);
  }

  /** The name that the tape is to have, or has. */
  get tapeName(): string {
    return this.query.name;
  }

  /** Length of the records of bars, where it is told. */
  get toldInterval(): string | undefined {
    const { interval } = this.query;
    return interval === undefined ? undefined : printBarRule(parseBarRule(interval));
  }

  /** Zone, hours and days that the records are held against. */
  get hours(): Hours {
    return { ...this.query, zone: this.query.zone ?? 'UTC', precision: this.precision };
  }

  get mostWords(): number {
    return this.limits.words;
  }

  get precision(): Precision {
    return this.records!.precision;
  }

  get ownColumns(): string[] {
    return this.records!.ownColumns;
  }

  /** Text columns with the words of the whole file. */
  get texts(): TextColumn[] {
    return this.records!.texts;
  }

  /** Further columns of numbers. */
  get numbers(): NumberColumn[] {
    return this.records!.numbers;
  }

  /** What is told and found of a tape, but for where its records lie. */
  tapeOf(tape: IncomingTape, facts: FileFacts): Omit<NewTape, 'generationId'> {
    const { zone = 'UTC', session, weekdays, closed, closeIncluded, unit, calendar } = this.query;
    return {
      name: tape.name,
      kind: this.reading!.kind,
      zone,
      session: session ?? null,
      weekdays: weekdays ?? null,
      closed: closed ?? null,
      closeIncluded: closeIncluded ?? false,
      calendar: calendar ?? null,
      tags: [],
      note: '',
      unit: unit ?? '',
      columns: [...this.records!.ownColumns, 'line', 'flags'],
      texts: this.texts,
      numbers: this.numbers,
      precision: this.records!.precision,
      report: this.report(facts, tape),
      ...tape.writer.found(this.toldInterval),
    };
  }

  async close(): Promise<void> {
    await this.spool.close();
    await this.copy?.close();
  }

  private get unpacking() {
    const { growth, uploadMegabytes } = this.limits;
    return { growth, mostBytes: uploadMegabytes * 2 ** 20 };
  }

  private start(reading: Reading, names: readonly string[]): RecordReader {
    requireUsable(reading, names);
    this.reading = reading;
    // columns are named after the file too: there may be an `average` in many
    const isByInstrument = reading.columns.some(({ role }) => role === 'instrument');
    const titleOf = (title: string) => (isByInstrument ? title : nameOfColumn(this.query.name, title));
    const byName = new Map<string, TapeWriter>();
    const sinkOf = (title: string): TapeWriter => {
      const known = byName.get(title);
      if (known) return known;
      const { tapesOfFile } = this.limits;
      if (byName.size >= tapesOfFile)
        throw refuse(
          'too-many-tapes',
          `The file holds more than ${tapesOfFile} instruments. Is the column of instruments the right one?`,
        );
      const { kind } = reading;
      const { calendar, now, goOn } = this;
      const writer = new TapeWriter(
        { kind, calendar, findings: this.findings.anew(), columns: RecordReader.columnsOf(reading), now, goOn },
        this.spool.forTape(),
      );
      byName.set(title, writer);
      this.tapes.push({ name: title === '' ? this.query.name : this.freeName(titleOf(title)), writer });
      return writer;
    };
    this.records = new RecordReader(reading, this.calendar, this.findings, sinkOf, this.limits.words);
    return this.records;
  }

  /** A name for the tape of an instrument, which no other one of the file has: names differ by more than their capitals. */
  private freeName(title: string): string {
    const taken = new Set(this.tapes.map(({ name }) => name.toLowerCase()));
    const plain = plainName(title);
    let name = plain;
    for (let number = 2; taken.has(name.toLowerCase()); number++) name = `${plain.slice(0, 36)}_${number}`;
    return name;
  }

  private async between(taken: Taken, through?: Uint8Array): Promise<void> {
    for (const { writer } of this.tapes) await writer.flush();
    if (this.tapes.reduce((sum, { writer }) => sum + writer.waitingBytes, 0) > MOST_WAITING_BYTES)
      for (const { writer } of this.tapes) await writer.flush('early');
    this.rows = this.records!.rows;
    taken(this.rows, through);
  }

  /** @param readAgain  hands all lines of the file on once more */
  private async finish(readAgain: (picker: LinePicker) => Promise<unknown>): Promise<void> {
    const { findings, records, lines } = this;
    this.rows = records!.rows;
    const told = findings.examplesOf('unreadable').map(({ line, says }) => ({ line, reason: says }));
    const unreadable = findings.countOf('unreadable');
    const sentences = told
      .slice(0, 3)
      .map(({ line, reason }) => `Line ${line}: ${reason}.`)
      .join(' ');
    const more = { rejected: told, rejectedCount: unreadable, line: told[0]?.line };
    if (this.rows === 0) {
      if (unreadable > 0 && records!.timesRefused === unreadable)
        throw refuse('no-time-column', `No line has a time where one should be. ${sentences}`, more);
      if (unreadable > 0) throw refuse('unreadable-lines', `No line could be read. ${sentences}`, more);
      if (findings.leftOutCount > 0)
        throw refuse(
          'unreadable-lines',
          `No record is left: ${findings.leftOut[0].reason}, on line ${findings.leftOut[0].line} and others.`,
        );
      throw refuse('empty-file', 'The file has a header and no records under it.');
    }
    const isAsked = this.query.checks?.unreadable === 'leave-out';
    if (unreadable > MOST_UNREADABLE * lines && !isAsked)
      throw refuse(
        'unreadable-lines',
        `${unreadable} of ${lines} lines cannot be read. ${sentences} Mend the reading or the file, or leave such lines out.`,
        more,
      );
    for (const { writer } of this.tapes) await writer.finish();
    if (this.tapes.every(({ writer }) => writer.rows === 0))
      throw refuse('empty-file', 'The checks leave no record over. Keep or flag some of what they find.');
    const wanted = new Set(this.tapes.flatMap(({ writer }) => writer.findings.leftOut.map(({ line }) => line)));
    if (wanted.size === 0) return;
    this.picked = new LinePicker(wanted);
    await readAgain(this.picked);
  }

  /** Parquet and Arrow are read from any place in them, so the file is laid down first. */
  private async readColumnar(sample: Uint8Array, rest: AsyncIterator<Uint8Array>, taken: Taken): Promise<void> {
    const copy = (this.copy = await FileCopy.open(this.folder));
    for await (const _ of copy.keep(withFirst(sample, rest)));
    const format = new TextDecoder('latin1').decode(sample.subarray(0, 4)) === 'PAR1' ? 'parquet' : 'arrow';
    const file = await openColumnar(
      format,
      { byteLength: copy.byteLength, slice: (from, to) => copy.slice(from, to) },
      this.unpacking,
    );
    const head: string[][] = [];
    for await (const row of file.rows(400)) head.push(row);
    const csv = [file.names, ...head]
      .map((row) => row.map((cell) => `"${cell.replaceAll('"', '""')}"`).join(','))
      .join('\n');
    const proposal = await proposeReading(
      new TextEncoder().encode(`${csv}\n\n`),
      { ...this.choices, format: 'delimited', delimiter: ',', header: true, skip: 0 },
      this.limits,
    );
    requireDecided(proposal);
    const records = this.start({ ...proposal.reading, format }, file.names);
    this.lines = await readColumnar(file, records, () => this.between(taken));
    await this.finish((picker) => readColumnar(file, picker, async () => taken(this.rows)));
  }
}

/** The first bytes of a file, a chunk more than asked at most; after those that are there already. */
async function sampleOf(
  chunks: AsyncIterator<Uint8Array>,
  asked: number,
  before: Uint8Array = new Uint8Array(0),
): Promise<Uint8Array> {
  const parts = [before];
  let bytes = before.length;
  while (bytes < asked) {
    const next = await chunks.next();
    if (next.done) break;
    parts.push(next.value);
    bytes += next.value.length;
  }
  return new Uint8Array(Buffer.concat(parts));
}

/** The text of a table with its periods across as one with a row for each. @throws {Refusal} where it is too long for that */
async function* turnedText(
  chunks: AsyncIterable<Uint8Array>,
  { encoding, delimiter }: Reading,
): AsyncGenerator<Uint8Array> {
  const parts: Uint8Array[] = [];
  let bytes = 0;
  for await (const part of chunks) {
    bytes += part.length;
    if (bytes > MOST_COLUMN_BYTES)
      throw refuse(
        'too-large',
        'A table with its periods across is read up to 64 MB. Is it one? Say `layout=rows` if not.',
      );
    parts.push(part);
  }
  const text = new TextDecoder(encoding).decode(Buffer.concat(parts)).replace(/^\uFEFF/, '');
  yield new TextEncoder().encode(turned(text, delimiter));
}

async function* withFirst(first: Uint8Array, rest: AsyncIterator<Uint8Array>): AsyncGenerator<Uint8Array> {
  yield first;
  for (let next = await rest.next(); !next.done; next = await rest.next()) yield next.value;
}
