import { periodInstant, TimeReader, type Calendar, type Precision } from '@jaunty-ledger/core';
import { flagBit, type CheckId } from '../checks/checks.js';
import { FileError } from '../fileError.js';
import { REQUIRED, type Reading, type TapeKind } from '../reading/reading.js';
import type { Findings } from '../checks/findings.js';
import { MISSING, readNumber, readStyledNumber } from './numberText.js';
import { newFileColumns, type NumberColumn, type TextColumn } from './textColumns.js';

/** Where records go. The values stand in the order of the tape's columns and are overwritten with the next. */
export interface RecordSink {
  add(values: Float64Array, line: number, flags: number): void;
  /** The first rows of columns in that order, whose lines follow each other and which have no flags. */
  addRows(columns: readonly Float64Array[], rows: number, firstLine: number): void;
}

/** Fields of one line, by their places in the bytes. */
export interface LineFields {
  bytes: Uint8Array;
  starts: Int32Array;
  ends: Int32Array;
  count: number;
  line: number;
  /** The line as it stands; asked for only where it is left out. */
  text: () => string;
}

/** Whoever takes the lines of a file, one after the other. */
export interface LineTaker {
  readFields(fields: LineFields): void;
  /** Columns that plain lines hold in this very order, for a reader that goes through bytes once; 0 to get none so. */
  readonly plainColumns: number;
  /** Plain records. None of their values may be 0 or missing: whoever finds one hands the line to `readFields`. */
  addPlain(columns: readonly Float64Array[], rows: number, firstLine: number): void;
}

/** How a stored column comes out of a field. */
interface NumberField {
  field: number;
  name: string;
  isPrice: boolean;
  isSize: boolean;
}

/** Periods are kept a day apart, and times end with the year 9999. */
const MOST_PERIODS = 2_900_000;

const SIDES: ReadonlyMap<string, number> = new Map([
  ['buy', 1],
  ['b', 1],
  ['bid', 1],
  ['sell', -1],
  ['s', -1],
  ['ask', -1],
]);

/** The column that stands for the price of records of a kind, and the one for their size. */
export const priceColumnOf = (kind: TapeKind): string =>
  ({ ticks: 'price', series: 'price', quotes: 'bid', bars: 'close' })[kind];
export const sizeColumnOf = (kind: TapeKind): string =>
  ({ ticks: 'size', series: 'size', quotes: 'bidSize', bars: 'volume' })[kind];

/** Makes records of the fields of lines, by a reading. What cannot be read is left out and told. */
export class RecordReader implements LineTaker {
  /** Our own columns that a tape of this reading has. */
  readonly ownColumns: string[];
  /** Columns of the file's own, with the words so far; they come after ours. */
  readonly texts: TextColumn[];
  /** Its further columns of numbers; they come after those. */
  readonly numbers: NumberColumn[];
  rows = 0;
  timesRefused = 0;
  private plainRows = 0;
  private readonly timeReader: TimeReader;
  private readonly time: number;
  private readonly date: number;
  private readonly clock: number;
  private readonly period: number;
  private readonly instrument: number;
  private readonly numberFields: NumberField[];
  private readonly sides: number[];
  private readonly furtherFields: number[];
  private readonly textFields: { field: number; codes: Map<string, number>; text: TextColumn }[];
  private readonly series: NumberField[];
  private readonly values: Float64Array;
  /** The size beside a single value, where there is one. */
  private readonly sizes: NumberField[];
  private readonly seriesSinks: RecordSink[];
  private readonly single: RecordSink | undefined;

  constructor(
    private readonly reading: Reading,
    calendar: Calendar,
    private readonly findings: Findings,
    private readonly sinkOf: (tape: string) => RecordSink,
    private readonly mostWords: number,
  ) {
    const { columns, kind } = reading;
    const fieldsOf = (role: string) => columns.flatMap((column, field) => (column.role === role ? [field] : []));
    const first = (role: string) => fieldsOf(role)[0] ?? -1;
    this.timeReader = new TimeReader(calendar, reading.dateOrder);
    this.time = first('time');
    this.date = first('date');
    this.clock = first('clock');
    this.period = first('period');
    this.instrument = first('instrument');
    this.sides = fieldsOf('side').slice(0, 1);
    const prices = new Set(REQUIRED[kind]);
    const single = (role: string): NumberField[] =>
      fieldsOf(role)
        .slice(0, 1)
        .map((field) => ({ field, name: role, isPrice: prices.has(role), isSize: role === sizeColumnOf(kind) }));
    this.numberFields = NUMBER_ROLES[kind].flatMap(single);
    this.series = fieldsOf('value')
      .filter(() => kind === 'series')
      .map((field) => ({ field, name: columns[field].name, isPrice: true, isSize: false }));
    this.sizes = hasSize(reading) ? single('size') : [];
    const { texts, numbers } = fileColumnsOf(reading);
    this.texts = texts;
    this.numbers = numbers;
    this.furtherFields = fieldsOf('number');
    this.textFields = fieldsOf('text').map((field, index) => ({ field, codes: new Map(), text: this.texts[index] }));
    this.ownColumns = ownColumnsOf(reading);
    this.values = new Float64Array(this.ownColumns.length + texts.length + numbers.length);
    this.seriesSinks =
      this.instrument < 0 ? this.series.map(({ name }) => sinkOf(this.series.length > 1 ? name : '')) : [];
    this.single = kind !== 'series' && this.instrument < 0 ? sinkOf('') : undefined;
  }

  /** How exactly the times of the records so far are told; plain lines hold moments. */
  get precision(): Precision {
    if (this.period >= 0) return 'period';
    return this.plainRows > 0 ? 'moment' : this.timeReader.precision;
  }

  /** Whether any of the times told its offset from UTC. */
  get hasOffsets(): boolean {
    return this.plainRows > 0 || this.timeReader.hasOffset;
  }

  /** What the values of a reading's records are stored under, in their order. */
  static columnsOf(reading: Reading): string[] {
    const { texts, numbers } = fileColumnsOf(reading);
    return [...ownColumnsOf(reading), ...[...texts, ...numbers].map(({ column }) => column)];
  }

  get plainColumns(): number {
    const { reading, numberFields } = this;
    const fits =
      reading.encoding !== 'utf-16be' &&
      reading.decimal === '.' &&
      this.single !== undefined &&
      this.time === 0 &&
      this.sides.length + this.textFields.length + this.numbers.length === 0 &&
      numberFields.every(({ field }, index) => field === index + 1);
    return fits ? numberFields.length + 1 : 0;
  }

  addPlain(columns: readonly Float64Array[], rows: number, firstLine: number): void {
    this.rows += rows;
    this.plainRows += rows;
    this.single!.addRows(columns, rows, firstLine);
  }

  readFields(fields: LineFields): void {
    const instant = this.readTime(fields);
    if (Number.isNaN(instant)) return;
    if (this.timeReader.repeated)
      this.findings.note('repeated-time', fields.line, () => textOf(fields, this.time < 0 ? this.clock : this.time));
    if (this.series.length > 0) return this.readSeries(fields, instant);
    const { values } = this;
    values[0] = instant;
    let flags = 0;
    let at = 1;
    for (const column of this.numberFields) {
      const value = this.readValue(fields, column);
      if (value === undefined) return;
      const flag = this.checkValue(fields, column, value);
      if (flag < 0) return;
      flags |= flag;
      values[at++] = value;
    }
    for (const field of this.sides) values[at++] = SIDES.get(textOf(fields, field).toLowerCase()) ?? 0;
    for (const { field, codes, text } of this.textFields)
      values[at++] = this.codeOf(textOf(fields, field), codes, text, fields.line);
    this.readFurther(fields, at);
    this.rows++;
    const sink = this.single ?? this.sinkOf(textOf(fields, this.instrument));
    sink.add(values, fields.line, flags);
  }

  /** Further numbers, from a place among the values on. What is none is missing: it is no reason to leave a record out. */
  private readFurther(fields: LineFields, first: number): void {
    const { furtherFields, values } = this;
    for (let index = 0; index < furtherFields.length; index++)
      values[first + index] = this.numberIn(fields, furtherFields[index]);
  }

  /** A line of a series: a record for each column that has a value in it. */
  private readSeries(fields: LineFields, instant: number): void {
    const { values } = this;
    values[0] = instant;
    this.series.forEach((column, index) => {
      if (textOf(fields, column.field) === '') return; // a day that this column does not have
      const value = this.readValue(fields, column);
      if (value === undefined || Number.isNaN(value)) return;
      let flags = this.checkValue(fields, column, value);
      if (flags < 0) return;
      values[1] = value;
      for (const size of this.sizes) {
        const read = this.readValue(fields, size);
        if (read === undefined) return;
        const flag = this.checkValue(fields, size, read);
        if (flag < 0) return;
        flags |= flag;
        values[2] = read;
      }
      let at = 2 + this.sizes.length;
      for (const { field, codes, text } of this.textFields)
        values[at++] = this.codeOf(textOf(fields, field), codes, text, fields.line);
      this.readFurther(fields, at);
      this.rows++;
      this.seriesSink(fields, index).add(values, fields.line, flags);
    });
  }

  /** Each instrument, and each column of values, has a tape of its own. */
  private seriesSink(fields: LineFields, index: number): RecordSink {
    if (this.instrument < 0) return this.seriesSinks[index];
    const word = textOf(fields, this.instrument);
    return this.sinkOf(this.series.length > 1 ? `${word} ${this.series[index].name}` : word);
  }

  private readTime(fields: LineFields): number {
    if (this.period >= 0) return this.readPeriod(fields);
    const { bytes, starts, ends, count } = fields;
    let instant = NaN;
    if (this.time >= 0 && this.time < count)
      instant = this.timeReader.read(bytes, ...trimmed(bytes, starts[this.time], ends[this.time]));
    else if (this.date >= 0 && this.date < count && (this.clock < 0 || this.clock < count)) {
      const date = trimmed(bytes, starts[this.date], ends[this.date]);
      if (this.clock < 0) instant = this.timeReader.read(bytes, ...date);
      else
        instant = this.timeReader.readParts(
          bytes,
          ...date,
          bytes,
          ...trimmed(bytes, starts[this.clock], ends[this.clock]),
        );
    }
    if (!Number.isNaN(instant)) return instant;
    this.timesRefused++;
    const text = [this.time, this.date, this.clock]
      .filter((field) => field >= 0)
      .map((field) => textOf(fields, field))
      .join(' ')
      .trim();
    this.leaveOut(
      fields,
      'unreadable',
      text === '' ? 'the time is missing' : `\`${shortened(text)}\` ${this.timeReader.reason || 'is no time'}`,
    );
    return NaN;
  }

  private readPeriod(fields: LineFields): number {
    const period = this.numberIn(fields, this.period);
    if (Number.isInteger(period) && Math.abs(period) <= MOST_PERIODS) return periodInstant(period);
    this.timesRefused++;
    const text = textOf(fields, this.period);
    const says = text === '' ? 'the period is missing' : `\`${shortened(text)}\` is no whole number of a period`;
    this.leaveOut(fields, 'unreadable', says);
    return NaN;
  }

  /** The number in a field; NaN where it is missing, undefined where the line was left out. */
  private readValue(fields: LineFields, { field, name }: NumberField): number | undefined {
    const value = this.numberIn(fields, field);
    if (!Number.isNaN(value)) return value;
    const text = textOf(fields, field);
    if (text === '' || MISSING.test(text)) return NaN;
    const reason = /^[+-]?[\d.,]+(e[+-]?\d+)?$/i.test(text) ? 'is too large for a number' : 'is not a number';
    this.leaveOut(fields, 'unreadable', `${name} \`${shortened(text)}\` ${reason}`);
    return undefined;
  }

  /** What a field holds as a number; NaN where that is nothing, or something else. */
  private numberIn(fields: LineFields, field: number): number {
    const { bytes, starts, ends, count } = fields;
    if (field >= count) return NaN;
    const [from, to] = trimmed(bytes, starts[field], ends[field]);
    if (from === to) return NaN;
    const { decimal } = this.reading;
    const plain = decimal === '.' ? readNumber(bytes, from, to) : NaN;
    return Number.isNaN(plain) ? readStyledNumber(textOf(fields, field), decimal) : plain;
  }

  /** The place of a word among those of its column. @throws {FileError} where these are too many */
  private codeOf(word: string, codes: Map<string, number>, { title, words }: TextColumn, line: number): number {
    const known = codes.get(word);
    if (known !== undefined) return known;
    if (words.length >= this.mostWords)
      throw new FileError(
        'too-many-words',
        `The column ${shortened(title)} has more than ${this.mostWords.toLocaleString('en')} different words: is it a number of each record? Leave it out, with the role skip.`,
        { line },
      );
    codes.set(word, words.length);
    return words.push(word) - 1;
  }

  /** The flags that a value brings, or -1 where its line is left out. */
  private checkValue(fields: LineFields, column: NumberField, value: number): number {
    if (Number.isNaN(value)) {
      if (column.isPrice) return this.treat(fields, 'no-price', `the ${column.name} is missing`);
      return column.isSize ? this.treat(fields, 'no-size', `the ${column.name} is missing`) : 0;
    }
    // dated values are of any sign
    if (column.isPrice && !(value > 0) && this.series.length === 0)
      return this.treat(fields, 'not-positive', `${column.name} ${value} is not above 0`);
    if (column.isSize && value < 0) return this.treat(fields, 'negative-size', `${column.name} ${value} is below 0`);
    if (column.isSize && value === 0) return this.treat(fields, 'zero-size', `the ${column.name} is 0`);
    return 0;
  }

  private treat(fields: LineFields, id: CheckId, says: string): number {
    const treatment = this.findings.treatmentOf(id);
    if (treatment === 'leave-out') {
      this.leaveOut(fields, id, says);
      return -1;
    }
    this.findings.note(id, fields.line, () => says);
    return treatment === 'flag' ? flagBit(id) : 0;
  }

  private leaveOut({ line, text }: LineFields, id: CheckId, says: string): void {
    this.findings.note(id, line, () => says);
    this.findings.leaveOut(line, says, text());
  }
}

/** Columns of numbers that records of a kind have, in the order in which they are stored. */
const NUMBER_ROLES: Record<TapeKind, readonly string[]> = {
  ticks: ['price', 'size'],
  quotes: ['bid', 'ask', 'bidSize', 'askSize'],
  bars: ['open', 'high', 'low', 'close', 'volume', 'value', 'trades'],
  series: [],
};

/** Dated values have a size where it can only be of the one value. */
const hasSize = ({ kind, columns }: Pick<Reading, 'kind' | 'columns'>): boolean =>
  kind === 'series' &&
  columns.some(({ role }) => role === 'size') &&
  columns.filter(({ role }) => role === 'value').length === 1;

function ownColumnsOf({ kind, columns }: Reading): string[] {
  const has = (role: string) => columns.some((column) => column.role === role);
  const own =
    kind === 'series' ? ['price', ...(hasSize({ kind, columns }) ? ['size'] : [])] : NUMBER_ROLES[kind].filter(has);
  return ['time', ...own, ...(has('side') ? ['side'] : [])];
}

function fileColumnsOf({ columns }: Reading): { texts: TextColumn[]; numbers: NumberColumn[] } {
  const titlesOf = (wanted: string) =>
    columns.flatMap(({ role, name }, field) => (role === wanted ? [name || `column ${field + 1}`] : []));
  return newFileColumns(titlesOf('text'), titlesOf('number'));
}

function trimmed(bytes: Uint8Array, from: number, to: number): [number, number] {
  while (from < to && (bytes[from] === 32 || bytes[from] === 9)) from++;
  while (from < to && (bytes[to - 1] === 32 || bytes[to - 1] === 9)) to--;
  return [from, to];
}

function textOf({ bytes, starts, ends, count }: LineFields, field: number): string {
  return field >= 0 && field < count ? new TextDecoder().decode(bytes.subarray(starts[field], ends[field])).trim() : '';
}

const shortened = (text: string): string => (text.length > 40 ? `${text.slice(0, 40)}…` : text);
