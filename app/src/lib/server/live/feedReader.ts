import { instantOf } from '@jaunty-ledger/core';
import { z } from 'zod';
import { parse as parseCsv } from 'csv-parse/sync';
import { refuse } from '$lib/api/problems';
import type { StoredTape } from '../store/tapeRows';
import { RecordGatherer, storedNames, type SentRecords } from './feedRecords';

/** How lines are written. */
export type FeedFormat = 'json' | 'csv';

/** A line that is no record: its number, and what is wrong with it. */
interface RefusedLine {
  line: number;
  says: string;
}

/** A line longer than this is none of a record. */
const MOST_LINE = 65_536;
/** The first and the last instant that there are. */
const YEARS = { first: Date.UTC(1, 0, 1) * 1000, end: Date.UTC(9999, 11, 31) * 1000 };

const Time = z.union(
  [z.string(), z.int()],
  'is an instant such as 2026-02-02T09:30:00.5Z, or whole microseconds since 1970',
);
const FIGURE = 'is a number';
const Price = z.number(FIGURE);
const Positive = Price.gt(0, 'is not above 0');
const Figure = z.number(FIGURE).nullish();
const Size = z.number(FIGURE).min(0, 'is not below 0').nullish();
const Side = z.enum(['buy', 'sell'], 'is `buy` or `sell`').nullish();
const Word = z.string('is a word').max(200, 'has 200 letters at most').nullish();

/** Columns of our own; prices are above 0, unless the tape has kept others. */
/** Room for instants in microseconds, up to the year 2255. */
const MAX_SEQUENCE = 9e15;
/** A hundred days of microseconds, for senders that number their records by the clock. */
const MAX_STEP = 1e13;

const ownOf = (Price: z.ZodNumber) => ({
  ticks: { price: Price, size: Size, side: Side },
  series: { price: Figure, size: Size, side: Side },
  quotes: { bid: Price, ask: Price, bidSize: Size, askSize: Size },
  bars: { open: Price, high: Price, low: Price, close: Price, volume: Size, value: Figure, trades: Size },
});

type Fields = Record<string, string | number | null | undefined>;

/** What a line of a tape's feed holds. */
function schemaOf({ kind, columns, texts, numbers, report, appended }: StoredTape) {
  const isKept = [report, ...appended].some(({ findings }) =>
    findings.some(({ id, treatment }) => id === 'not-positive' && treatment !== 'leave-out'),
  );
  const own = Object.entries(ownOf(isKept ? Price : Positive)[kind]).filter(([name]) => columns.includes(name));
  return z.strictObject({
    seq: z.int('is a whole number').min(0, 'is not below 0').max(MAX_SEQUENCE, `is at most ${MAX_SEQUENCE}`).optional(),
    time: Time,
    ...Object.fromEntries(own),
    ...Object.fromEntries(texts.map(({ name }) => [name, Word])),
    ...Object.fromEntries(numbers.map(({ name }) => [name, Figure])),
  }) as unknown as z.ZodType<Fields & { seq?: number; time: string | number }>;
}

/** Reads the lines of a feed into records of its tape. A line that is none is told of, and the others stand. */
export class FeedReader {
  private readonly schema: ReturnType<typeof schemaOf>;
  private readonly decoder = new TextDecoder();
  private readonly values = new Map<string, number>();
  private rest = '';
  private line = 0;
  private header: string[] | undefined;
  /** Whether the rest of a line that is too long is passed over. */
  private isTooLong = false;
  /** Columns may be called as what every object has; only then is it worth the time to do without that. */
  private readonly hasHostileNames: boolean;

  /**
   * @param codeOf        the place of a word among those of a text column; it may be a new one
   * @param lastSequence  of the sender's records that are stored; below 0 if there is none
   */
  constructor(
    private readonly tape: StoredTape,
    private format: FeedFormat | undefined,
    private readonly codeOf: (text: string, word: string) => number,
    private lastSequence = -1,
  ) {
    if (tape.precision !== 'moment')
      throw refuse(
        'invalid-body',
        `The times of ${tape.name} are no instants; only records with an instant can be fed.`,
      );
    const names = [...tape.texts, ...tape.numbers].map(({ name }) => name);
    if (names.includes('seq'))
      throw refuse(
        'invalid-body',
        `${tape.name} has a column called \`seq\`, as a feed calls the numbers of its records.`,
      );
    this.hasHostileNames = names.some((name) => name in Object.prototype);
    this.schema = schemaOf(tape);
  }

  /**
   * Reads what has come.
   * @param bytes  undefined at the end
   */
  read(bytes: Uint8Array | undefined): SentRecords & { refused: RefusedLine[] } {
    const text = this.rest + (bytes ? this.decoder.decode(bytes, { stream: true }) : this.decoder.decode());
    const lines = text.split('\n');
    this.rest = bytes ? lines.pop()! : '';
    const gathered = new RecordGatherer(storedNames(this.tape));
    const sequences: number[] = [];
    const refused: RefusedLine[] = [];
    const readLine = (text: string) => {
      this.line++;
      const wasTooLong = this.isTooLong;
      this.isTooLong = false;
      if (wasTooLong || text.length > MOST_LINE) {
        refused.push({ line: this.line, says: `a line has at most ${MOST_LINE.toLocaleString('en')} letters` });
        return;
      }
      if (text.trim() === '') return;
      const says = this.readLine(text, gathered, sequences);
      if (says !== undefined) refused.push({ line: this.line, says });
    };
    lines.forEach(readLine);
    if (this.rest.length > MOST_LINE) {
      this.isTooLong = true;
      this.rest = '';
    }
    const { rows } = gathered;
    const isNumbered = sequences.some((one) => !Number.isNaN(one));
    return {
      ...{ rows, columns: gathered.take(), refused },
      sequences: isNumbered ? Float64Array.from(sequences) : undefined,
    };
  }

  /** Forgets a line that has begun and not ended. */
  dropLine(): void {
    this.rest = '';
    this.isTooLong = false;
  }

  /** What is wrong with a line; nothing where it is a record, or the header of records. */
  private readLine(text: string, gathered: RecordGatherer, sequences: number[]): string | undefined {
    this.format ??= text.trimStart().startsWith('{') ? 'json' : 'csv';
    const fields = this.format === 'json' ? jsonFields(text) : this.csvFields(text);
    if (fields === undefined) return undefined;
    if (typeof fields === 'string') return fields;
    const found = this.schema.safeParse(
      this.hasHostileNames ? Object.assign(Object.create(null) as object, fields) : fields,
    );
    if (!found.success) return saidOf(found.error, fields);
    const { seq, time, ...values } = found.data;
    if (seq !== undefined) {
      // a slip of many figures would make all further records of the sender count as repeated
      if (this.lastSequence >= 0 && seq - this.lastSequence > MAX_STEP)
        return `\`seq\` goes from ${this.lastSequence} to ${seq}; it may grow by at most ${MAX_STEP} from one record to the next`;
      this.lastSequence = Math.max(this.lastSequence, seq);
    }
    const instant = typeof time === 'number' ? time : instantOfText(time);
    if (!(instant >= YEARS.first && instant < YEARS.end))
      return '`time` is an instant with its zone, such as 2026-02-02T09:30:00.5Z, or whole microseconds since 1970';
    this.values.clear();
    this.values.set('time', Math.round(instant)).set('line', this.line).set('flags', 0);
    for (const name of this.tape.columns) {
      const value = values[name];
      if (name === 'side') this.values.set(name, value === 'buy' ? 1 : value === 'sell' ? -1 : 0);
      else if (typeof value === 'number') this.values.set(name, value);
    }
    for (const { name, column } of this.tape.texts)
      this.values.set(column, typeof values[name] === 'string' ? this.codeOf(name, values[name]) : -1);
    for (const { name, column } of this.tape.numbers) this.values.set(column, (values[name] as number | null) ?? NaN);
    gathered.push(this.values);
    sequences.push(seq ?? NaN);
    return undefined;
  }

  private csvFields(text: string): Fields | string | undefined {
    const fields = csvLine(text.replace(/\r$/, ''));
    if (!fields) return 'the quotes of this line do not close';
    if (!this.header) {
      this.header = fields.map((field) => field.trim());
      if (!this.header.includes('time')) {
        this.header = undefined;
        return 'the first line names the columns, `time` among them';
      }
      return undefined;
    }
    if (fields.length !== this.header.length)
      return `there are ${fields.length} fields, the header names ${this.header.length}`;
    const words = new Set(['side', ...this.tape.texts.map(({ name }) => name)]);
    return Object.fromEntries(this.header.map((name, at) => [name, valueOf(name, fields[at], words)]));
  }
}

/** Not what a program takes for a number besides: blanks, or figures of other bases. */
const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;

function valueOf(name: string, field: string, words: ReadonlySet<string>): string | number | undefined {
  if (field === '') return undefined;
  if (words.has(name)) return field;
  if (name === 'time') return /^\d{12,}$/.test(field) ? Number(field) : field;
  return NUMBER.test(field) ? Number(field) : field;
}

function jsonFields(text: string): Fields | string {
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === 'object' && value !== null && !Array.isArray(value)
      ? (value as Fields)
      : 'a line is a record in braces, {"time": …}';
  } catch {
    return 'the line is no JSON';
  }
}

/** The fields of a line; undefined where its quotes do not close. Most lines have none. */
function csvLine(text: string): string[] | undefined {
  if (!text.includes('"')) return text.split(',');
  try {
    return (parseCsv(text) as string[][])[0];
  } catch {
    return undefined;
  }
}

/** NaN for a text that does not tell its zone. */
const instantOfText = (text: string): number =>
  /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d.*(Z|[+-]\d\d:?\d\d)$/i.test(text) ? instantOf(text.replace(' ', 'T')) : NaN;

function saidOf({ issues: [issue] }: z.ZodError, fields: Fields): string {
  if (issue.code === 'unrecognized_keys') return `the tape has no column \`${issue.keys[0]}\``;
  const name = String(issue.path[0]);
  return `\`${name}\` ${(fields[name] ?? undefined) === undefined ? 'is missing' : issue.message}`;
}
