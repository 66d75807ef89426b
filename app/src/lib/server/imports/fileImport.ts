import { join } from 'node:path';
import {
  BAR_COLUMNS,
  makeCalendar,
  parseBarRule,
  planEach,
  printBarRule,
  rfc3339,
  WEEKDAYS,
  type Calendar,
  type Precision,
} from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import type { CheckId } from '@jaunty-ledger/files/checks/checks';
import type { Reading, ReadingChoices } from '@jaunty-ledger/files/reading/reading';
import { calendarOptions, type Hours, type ImportQuery, type IntakeReport, type SharedTimes } from '$lib/api/tapes';
import { Findings, LeftOutRoom, type LeftOutLine } from '@jaunty-ledger/files/checks/findings';
import { LinePicker } from '@jaunty-ledger/files/formats/linePicker';
import { requireReadable } from '@jaunty-ledger/files/reading/requireReadable';
import { readRecords } from '@jaunty-ledger/files/reading/readRecords';
import { nameOfColumn, plainName } from '@jaunty-ledger/files/reading/roles';
import { ORDERED_CHECKS } from '@jaunty-ledger/files/checks/recordChecks';
import { RecordReader } from '@jaunty-ledger/files/records/recordReader';
import type { NumberColumn, TextColumn } from '@jaunty-ledger/files/records/textColumns';
import type { Limits } from '../limits';
import type { NewTape } from '../store/tapeRows';
import { FileCopy } from '@jaunty-ledger/files/formats/fileCopy';
import { ImportSpool, SPOOLS, type TapeSpool } from './tapeSpool';
import { RecordWriter } from '@jaunty-ledger/files/records/recordWriter';

/** Bytes of records that wait for full chunks, of all tapes of a file; beyond them smaller chunks are written. */
const MOST_WAITING_BYTES = 64 << 20;

/** A tape on its way: its name, its records, and what was found in them. */
export interface IncomingTape {
  name: string;
  writer: RecordWriter;
  records: TapeSpool;
}

export interface FileFacts {
  bytes: number;
  sha256: string;
}

/** Told how many records there are so far, and of bytes that are read through: nothing of them is held on to. */
type Taken = (rows: number, through?: Uint8Array) => void;

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
    const { lines, again } = await readRecords(file, {
      choices: this.choices,
      limits: this.limits,
      start: (reading) => this.start(reading),
      between: (through) => this.between(taken, through),
      layDown: async () => (this.copy = await FileCopy.open(join(this.folder, SPOOLS))),
      isReadAgain: () => this.mayAskForLines,
    });
    this.lines = lines;
    await this.finish((picker) => again(picker, async () => taken(this.rows)));
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
      closedWeekdays: closedOf(writer.found().weekdays),
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
    const found = tape.writer.found(this.toldInterval);
    const report = this.report(facts, tape);
    return {
      name: tape.name,
      kind: this.reading!.kind,
      zone,
      session: session ?? null,
      closed: closed ?? null,
      closeIncluded: closeIncluded ?? false,
      calendar: calendar ?? null,
      tags: [],
      note: '',
      unit: unit ?? '',
      columns: [...this.records!.ownColumns, 'line', 'flags'],
      texts: this.texts,
      numbers: this.numbers,
      valueName: valueNameOf(this.reading!, [...this.texts, ...this.numbers]),
      precision: this.records!.precision,
      sharedTimes: this.sharedTimesOf(report),
      report,
      ...found,
      weekdays: weekdays ?? found.weekdays,
    };
  }

  /**
   * What a bar is where rows of a tape share a time, as it was chosen; dates with several values that differ are counts or amounts
   * more often than not, so they add up, and none is dropped in silence. Null where none do.
   */
  sharedTimesOf({ findings }: IntakeReport): SharedTimes | null {
    if (this.reading!.kind !== 'series') return null;
    // exact repeats are a finding of their own
    const isShared = findings.some(({ id, count }) => id === ('same-instant' satisfies CheckId) && count > 0);
    const isDated = this.precision !== 'moment' && this.precision !== 'period';
    return this.query.sharedTimes ?? (isDated && isShared ? 'sum' : null);
  }

  /** Whether nothing says on which weekdays there is trading, so that the records do. */
  private get infersWeekdays(): boolean {
    const { weekdays, calendar } = this.query;
    return (
      weekdays === undefined && calendar === undefined && (this.precision === 'moment' || this.precision === 'day')
    );
  }

  async close(): Promise<void> {
    await this.spool.close();
    await this.copy?.close();
  }

  private start(reading: Reading): RecordReader {
    this.reading = reading;
    // columns are named after the file too: there may be an `average` in many
    const isByInstrument = reading.columns.some(({ role }) => role === 'instrument');
    const titleOf = (title: string) => (isByInstrument ? title : nameOfColumn(this.query.name, title));
    const byName = new Map<string, RecordWriter>();
    const sinkOf = (title: string): RecordWriter => {
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
      const records = this.spool.forTape(kind);
      const writer = new RecordWriter(
        { kind, calendar, findings: this.findings.anew(), columns: RecordReader.columnsOf(reading), now, goOn },
        records,
      );
      byName.set(title, writer);
      this.tapes.push({ name: title === '' ? this.query.name : this.freeName(titleOf(title)), writer, records });
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
    requireReadable(findings, records!, lines, this.query.checks?.unreadable === 'leave-out');
    const infersWeekdays = this.infersWeekdays;
    for (const { writer } of this.tapes) await writer.finish({ infersWeekdays });
    if (this.tapes.every(({ writer }) => writer.rows === 0))
      throw refuse('empty-file', 'The checks drop every record. Keep or flag some of what they find.');
    const wanted = new Set(this.tapes.flatMap(({ writer }) => writer.findings.leftOut.map(({ line }) => line)));
    if (wanted.size === 0) return;
    this.picked = new LinePicker(wanted);
    await readAgain(this.picked);
  }
}

/** The weekdays beside those with trading. */
const closedOf = (open: readonly string[] | null): string[] =>
  open ? WEEKDAYS.filter((day) => !open.includes(day)) : [];

/** What a file calls its single values, where formulas can use it as a name; null where they have no such name. */
function valueNameOf({ kind, columns }: Reading, further: readonly NumberColumn[]): string | null {
  if (kind !== 'series') return null;
  const { name = '' } = columns.find(({ role }) => role === 'value') ?? {};
  const isTaken = TAKEN_NAMES.has(name.toLowerCase()) || further.some((column) => column.name === name);
  return isTaken || !isFormulaName(name) ? null : name;
}

/** Whether formulas can call a column so: a word, and none of the notation's own such as `all`. */
function isFormulaName(name: string): boolean {
  const { errors } = planEach([`a = ${name}`], { columns: ['close'], aliases: new Map([[name, 'close']]) });
  return /^[A-Za-z_]\w{0,59}$/.test(name) && errors.size === 0;
}

/** Names that columns of bars and records have. */
const TAKEN_NAMES: ReadonlySet<string> = new Set([
  ...BAR_COLUMNS,
  'time',
  'end',
  'turnover',
  'price',
  'size',
  'line',
  'flags',
]);
