import {
  makeCalendar,
  rfc3339,
  SessionSeeker,
  toldText,
  type Calendar,
  type CalendarOptions,
  type Precision,
  type SessionGuess,
} from '@jaunty-ledger/core';
import { FileError } from '../fileError.js';
import type { FileLimits } from '../fileLimits.js';
import { isDelimited, type Reading, type ReadingChoices } from './reading.js';
import { HiddenCounter, hiddenInText } from './hiddenRows.js';
import type { HiddenRows, PreviewRow, ReadingPreview } from './preview.js';
import { isGzip, isZip } from '../formats/decoding.js';
import { openFileText } from '../formats/fileText.js';
import { refuseOtherSpreadsheets } from '../formats/spreadsheet.js';
import { isSpreadsheet } from '../formats/zipStart.js';
import { MOST_FIELDS, readTexts } from '../formats/delimitedRows.js';
import { Findings } from '../checks/findings.js';
import { proposeReading, requireUsable, shapeOf } from './proposeReading.js';
import { SAMPLE_ROWS } from './sampleTable.js';
import type { RecordColumns } from '../records/recordColumns.js';
import { RecordChecks } from '../checks/recordChecks.js';
import { priceColumnOf, RecordReader } from '../records/recordReader.js';

/** Rows of the beginning and of the end that are shown. */
const SHOWN_ROWS = 6;
/** Tapes of one file that are shown, and points of the small picture of each. */
const MOST_TAPES = 200;
const SPARK_POINTS = 60;

/** Bytes of the beginning and of the end of a packed file that are looked at. */
const UNPACKED_BYTES = 1 << 20;
const END_BYTES = 1 << 14;
/** Lines of the end among which the last rows are: some may be notes, or parts of a quoted field. */
const LINES_LOOKED_AT = 40;

export interface PreviewInput {
  /** The beginning of a file, and its end; the latter empty where the beginning is all of it. */
  head: Uint8Array;
  tail: Uint8Array;
  choices: ReadingChoices;
  calendar: CalendarOptions;
}

/** A reading that was kept under a name. */
export interface KeptReading {
  name: string;
  choices: ReadingChoices;
}

/**
 * How a file would be read, from its beginning and its end: what stands there beside what it is read as.
 * @param keptFor  the reading that was kept for files of a shape; it holds where nothing else is chosen
 */
export async function previewReading(
  { head, tail, choices, calendar }: PreviewInput,
  keptFor: (shape: string) => Promise<KeptReading | undefined>,
  limits: FileLimits,
): Promise<ReadingPreview> {
  const text = await textEnds({ head, tail }, choices.sheet, limits);
  const { start: sample, isWhole, own } = text;
  let proposal = await proposeReading(sample, { ...choices, ...own }, limits, isWhole);
  const shape = shapeOf(proposal.reading, proposal.names);
  const profile = Object.keys(choices).length === 0 ? await keptFor(shape) : undefined;
  if (profile) proposal = await proposeReading(sample, { ...profile.choices, ...own }, limits, isWhole);
  const { reading, names, rows, open, figure } = proposal;
  const findings = new Findings({});
  const shown = new Preview(reading, calendar, findings, limits.words);
  let problem: string | null = null;
  try {
    requireUsable(reading, names);
  } catch (error) {
    if (!(error instanceof FileError)) throw error;
    problem = error.message;
  }
  const offset = isDelimited(reading.format) ? reading.skip + reading.under + (reading.header ? 2 : 1) : 1;
  const all = rows.map((cells, index) => shown.read(cells, index + offset, problem === null));
  const last = await lastRows(text, all, reading, shown, problem === null, limits);
  shown.checkOrder(Date.now() * 1000);
  return {
    reading,
    names,
    columns: shown.columns,
    shape,
    tapes: shown.made(),
    first: all.slice(0, SHOWN_ROWS),
    last,
    findings: findings.list(),
    sampleRows: rows.length,
    open,
    ...(figure !== undefined && { figure }),
    session: isWhole && rows.length < SAMPLE_ROWS ? shown.sessionGuess() : null,
    hidden: problem === null && isLimited(calendar) ? await hiddenBy(calendar, text, reading, shown, limits) : null,
    hasOffsets: shown.hasOffsets,
    precision: shown.precision,
    sheets: text.sheets,
    profile: profile?.name ?? null,
    problem,
  };
}

const isLimited = ({ session, weekdays, closed }: CalendarOptions): boolean =>
  session !== undefined || weekdays !== undefined || (closed ?? []).length > 0;

/** What a calendar would hide of the rows that are there: all of those that are read by lines, else those of the sample. */
async function hiddenBy(
  options: CalendarOptions,
  { start, isWhole }: TextEnds,
  reading: Reading,
  shown: Preview,
  limits: FileLimits,
): Promise<HiddenRows> {
  const calendar = makeCalendar(options);
  const found = await hiddenInText(start, reading, calendar, limits, isWhole);
  if (found) return found;
  const counter = new HiddenCounter(calendar);
  for (const time of shown.times) counter.add(time);
  return counter.counts;
}

/** Reads single rows and keeps what each came to. */
class Preview {
  readonly columns: string[];
  private readonly tapes: string[] = [];
  private readonly records: RecordReader;
  private result: string[] | null = null;
  private readonly starts = new Int32Array(MOST_FIELDS);
  private readonly ends = new Int32Array(MOST_FIELDS);

  private readonly calendar: Calendar;
  /** Names of the values under each date, where they are several. */
  private readonly valueNames: readonly string[];
  /** Records of the sample, by their tape. */
  private readonly taken = new Map<string, { values: Float64Array; line: number }[]>();

  constructor(
    private readonly reading: Reading,
    calendar: CalendarOptions,
    private readonly findings: Findings,
    mostWords: number,
  ) {
    this.calendar = makeCalendar(calendar);
    const { kind, columns } = reading;
    const values = kind === 'series' ? columns.filter(({ role }) => role === 'value') : [];
    const isByInstrument = columns.some(({ role }) => role === 'instrument');
    this.valueNames = values.length > 1 && !isByInstrument ? values.map(({ name }) => name) : [];
    const sinkOf = (tape: string) => {
      if (tape !== '' && !this.tapes.includes(tape)) this.tapes.push(tape);
      return {
        add: (values: Float64Array, line: number) => {
          const shown = this.shown(values);
          // each value of a line goes to a tape of its own; here they stand beside each other
          const at = this.valueNames.indexOf(tape) + 1;
          if (at > 0) {
            this.result ??= [shown[0], ...this.valueNames.map(() => '')];
            this.result[at] = shown[1];
          } else this.result = shown;
          if (line > 0) this.keep(tape, values.slice(), line);
        },
        addRows: () => {
          throw new Error('a preview reads lines by their fields');
        },
      };
    };
    this.records = new RecordReader(reading, this.calendar, findings, sinkOf, mostWords);
    const { ownColumns, texts, numbers } = this.records;
    this.columns =
      this.valueNames.length > 0
        ? ['time', ...this.valueNames]
        : [...ownColumns, ...[...texts, ...numbers].map(({ name }) => name)];
  }

  read(cells: string[], line: number, isUsable: boolean): PreviewRow {
    this.result = null;
    const before = this.findings.leftOut.length;
    if (isUsable) readTexts(this.records, cells, line, () => cells.join(','), this.starts, this.ends);
    const isLeftOut = this.findings.leftOut.length > before;
    const reason = isLeftOut ? this.findings.leftOut[before].reason : this.result || !isUsable ? '' : 'no value';
    return { line, cells, read: this.result, reason };
  }

  /** What the checks that look at records in their order find among those of the sample. */
  checkOrder(now: number): void {
    for (const rows of this.taken.values()) {
      const isBehind = rows.map(({ values }, at) => at > 0 && values[0] < rows[at - 1].values[0]);
      const isTurned =
        isBehind.filter(Boolean).length > 1 && rows.every(({ values }, at) => !(values[0] > rows[at - 1]?.values[0]));
      if (isTurned) this.findings.note('newest-first', rows[0].line, () => rfc3339(rows[0].values[0]));
      else
        rows.forEach(({ values, line }, at) => {
          if (isBehind[at]) this.findings.note('out-of-order', line, () => rfc3339(values[0]));
        });
      rows.sort((a, b) => a.values[0] - b.values[0]);
      const column = (at: number) => Float64Array.from(rows, ({ values }) => values[at]);
      const stored = RecordReader.columnsOf(this.reading);
      const columns = Object.fromEntries(stored.map((name, at) => [name, column(at)])) as RecordColumns;
      columns.line = Float64Array.from(rows, ({ line }) => line);
      columns.flags = new Float64Array(rows.length);
      new RecordChecks(this.reading.kind, this.calendar, this.findings, now).check(columns, rows.length);
    }
  }

  /** The tapes that come of the sample, each with its ends. */
  made(): ReadingPreview['tapes'] {
    const price = RecordReader.columnsOf(this.reading).indexOf(priceColumnOf(this.reading.kind));
    return this.tapes.slice(0, MOST_TAPES).map((name) => {
      const rows = this.taken.get(name) ?? [];
      const prices = rows.map(({ values }) => values[price]).filter((value) => !Number.isNaN(value));
      const end = (row: { values: Float64Array } | undefined): [string, string] => {
        const shown = row ? this.shown(row.values) : [];
        return [shown[0] ?? '', shown[price] ?? ''];
      };
      return {
        name,
        rows: rows.length,
        first: end(rows[0]),
        last: end(rows.at(-1)),
        spark: prices.slice(0, SPARK_POINTS),
      };
    });
  }

  /** Times of the records of the sample. */
  get times(): number[] {
    return [...this.taken.values()].flatMap((rows) => rows.map(({ values }) => values[0]));
  }

  get hasOffsets(): boolean {
    return this.records.hasOffsets;
  }

  get precision(): Precision {
    return this.records.precision;
  }

  /** Hours that all records of the sample keep to. */
  sessionGuess(): SessionGuess | null {
    if (this.precision !== 'moment' || this.calendar.hasSession) return null;
    const seeker = new SessionSeeker();
    for (const time of this.times.sort((a, b) => a - b)) seeker.add(this.calendar.zone.wallAt(time));
    return seeker.guess() ?? null;
  }

  private keep(tape: string, values: Float64Array, line: number): void {
    const rows = this.taken.get(tape);
    if (rows) rows.push({ values, line });
    else this.taken.set(tape, [{ values, line }]);
  }

  private shown(values: Float64Array): string[] {
    const { ownColumns, texts } = this.records;
    return Array.from(values, (value, column) => {
      // days and months are shown by the clock of their zone: by UTC they could be the ones before
      if (column === 0)
        return this.precision === 'moment'
          ? rfc3339(value)
          : toldText(this.calendar.zone.wallAt(value), this.precision);
      const text = texts[column - ownColumns.length];
      if (text) return text.words[value];
      return Number.isNaN(value) ? '' : String(value);
    });
  }
}

/** The beginning of a file as its records are read from it, and its end where that is known. */
interface TextEnds {
  start: Uint8Array;
  end: Uint8Array;
  /** Whether the start is all of it. */
  isWhole: boolean;
  own: ReadingChoices;
  sheets: string[];
}

/** The last rows of a file; none where they are among the first, or its end is not known. */
async function lastRows(
  { end, isWhole }: TextEnds,
  all: readonly PreviewRow[],
  reading: Reading,
  shown: Preview,
  isUsable: boolean,
  limits: FileLimits,
): Promise<PreviewRow[]> {
  const isAll = isWhole && (all.length < SAMPLE_ROWS || reading.layout === 'across');
  if (isAll) return all.slice(SHOWN_ROWS).slice(-SHOWN_ROWS);
  const isByLine = isDelimited(reading.format) || reading.format === 'ndjson';
  if (!isByLine || reading.layout === 'across' || end.length === 0) return [];
  const lines = lastLines(end, LINES_LOOKED_AT, reading.encoding === 'utf-16le' ? 2 : 1);
  const choices = { ...reading, header: false, skip: 0, under: 0 };
  const { rows } = await proposeReading(lines, choices, limits, true);
  return rows.slice(-SHOWN_ROWS).map((row) => shown.read(row, 0, isUsable));
}

/**
 * So many lines at the end of some bytes, or as many as there are after the first, which may be cut off.
 * @param lineEndBytes  from the byte of a line feed to the next line
 */
function lastLines(bytes: Uint8Array, count: number, lineEndBytes: number): Uint8Array {
  let at = bytes.length - lineEndBytes; // the last line ends there
  for (let lines = 0; lines < count && at > 0; lines++) at = bytes.lastIndexOf(10, at - 1);
  return bytes.subarray((at > 0 ? at : bytes.indexOf(10)) + lineEndBytes);
}

/** Packed files and spreadsheets are unpacked for it, as far as they are there. */
async function textEnds(
  { head, tail }: Pick<PreviewInput, 'head' | 'tail'>,
  sheet: string | undefined,
  { growth }: FileLimits,
): Promise<TextEnds> {
  refuseOtherSpreadsheets(head);
  if (!isGzip(head) && !isZip(head)) {
    const isWhole = tail.length === 0;
    return { start: head, end: isWhole ? head.slice(-END_BYTES) : tail, isWhole, own: {}, sheets: [] };
  }
  if (isSpreadsheet(head) && tail.length > 0)
    throw new FileError(
      'too-large',
      'A spreadsheet of more than 6 MB is not looked into here. Save its sheet as CSV, or send it by HTTP.',
    );
  const parts: Uint8Array[] = [];
  let bytes = 0;
  let end: Uint8Array = new Uint8Array(0);
  const there = async function* () {
    yield head;
  };
  const text = await openFileText(there(), { growth, mostBytes: Infinity }, sheet);
  const { own, sheets } = text;
  const gathered = (isWhole: boolean) => ({
    start: new Uint8Array(Buffer.concat(parts)),
    end,
    isWhole,
    own,
    sheets,
  });
  try {
    for await (const part of text.chunks) {
      if (bytes < UNPACKED_BYTES) parts.push(part);
      bytes += part.length;
      if (bytes >= UNPACKED_BYTES && tail.length > 0) return gathered(false);
      end = new Uint8Array(Buffer.concat([end, part])).slice(-END_BYTES);
    }
  } catch (error) {
    if (parts.length === 0) throw error; // else it is the beginning that ends, not the file
    end = new Uint8Array(0);
    return gathered(false);
  }
  return gathered(bytes === parts.reduce((sum, part) => sum + part.length, 0));
}
