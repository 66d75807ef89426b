import { makeCalendar, type Calendar, type CalendarOptions } from '@jaunty-ledger/core';
import { Refusal } from '$lib/api/problems';
import { ReadingChoices, type Reading } from '$lib/api/reading';
import type { PreviewRow, ReadingPreview } from '$lib/api/readings';
import { rfc3339 } from '$lib/api/times';
import { readBy } from '../problem';
import type { Store } from '../store/connection';
import { profileOfShape } from '../store/profiles';
import { isGzip, isZip, unpacked } from './decoding';
import { MOST_FIELDS, readTexts } from './delimitedRows';
import { shapeOf } from './fileImport';
import { Findings } from './findings';
import { proposeReading, requireUsable } from './proposeReading';
import type { RecordColumns } from '../chunks/tapeChunk';
import { RecordChecks } from './recordChecks';
import { RecordReader } from './recordReader';

/** Rows of the beginning and of the end that are shown. */
const SHOWN_ROWS = 6;

/** How a file would be read, from its beginning and its end: what stands there beside what it is read as. */
export async function previewReading(
  db: Store,
  head: Uint8Array,
  tail: Uint8Array,
  chosen: Record<string, string>,
  calendar: CalendarOptions,
): Promise<ReadingPreview> {
  const isPacked = isGzip(head) || isZip(head);
  const sample = isPacked ? await unpackedStart(head) : head;
  const own = readBy(ReadingChoices, chosen, 'invalid-body');
  let proposal = await proposeReading(sample, own);
  const shape = shapeOf(proposal.reading, proposal.names);
  const profile = Object.keys(chosen).length === 0 ? await profileOfShape(db, shape) : undefined;
  if (profile) proposal = await proposeReading(sample, readBy(ReadingChoices, profile.choices, 'invalid-body'));
  const { reading, names, rows, open } = proposal;
  const findings = new Findings({});
  const shown = new Preview(reading, calendar, findings);
  let problem: string | null = null;
  try {
    requireUsable(reading, names);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    problem = error.problem.detail;
  }
  const offset = reading.header && reading.format === 'delimited' ? 2 : 1;
  const all = rows.map((cells, index) => shown.read(cells, index + offset, problem === null));
  const last =
    isPacked || tail.length === 0 || reading.format !== 'delimited'
      ? all.slice(-SHOWN_ROWS)
      : await lastRows(tail, reading, shown, problem === null);
  shown.checkOrder(Date.now() * 1000);
  return {
    reading,
    names,
    columns: shown.columns,
    shape,
    tapes: shown.tapes,
    first: all.slice(0, SHOWN_ROWS),
    last: all.length > SHOWN_ROWS ? last : [],
    findings: findings.list(),
    sampleRows: rows.length,
    open,
    profile: profile?.name ?? null,
    problem,
  };
}

/** Reads single rows and keeps what each came to. */
class Preview {
  readonly columns: string[];
  readonly tapes: string[] = [];
  private readonly records: RecordReader;
  private result: string[] | null = null;
  private readonly starts = new Int32Array(MOST_FIELDS);
  private readonly ends = new Int32Array(MOST_FIELDS);

  private readonly calendar: Calendar;
  /** Records of the sample, by their tape. */
  private readonly taken = new Map<string, { values: Float64Array; line: number }[]>();

  constructor(
    private readonly reading: Reading,
    calendar: CalendarOptions,
    private readonly findings: Findings,
  ) {
    this.calendar = makeCalendar(calendar);
    this.records = new RecordReader(reading, this.calendar, findings, (tape) => {
      if (tape !== '' && !this.tapes.includes(tape)) this.tapes.push(tape);
      return {
        add: (values, line) => {
          this.result = this.shown(values);
          if (line > 0) this.keep(tape, values.slice(), line);
        },
        addRows: () => {
          throw new Error('a preview reads lines by their fields');
        },
      };
    });
    this.columns = this.records.columns;
  }

  read(cells: string[], line: number, isUsable: boolean): PreviewRow {
    this.result = null;
    const before = this.findings.leftOut.length;
    if (isUsable) readTexts(this.records, cells, line, () => cells.join(','), this.starts, this.ends);
    const reason = this.findings.leftOut.length > before ? this.findings.leftOut[before].reason : '';
    return { line, cells, read: this.result, reason };
  }

  /** What the checks that look at records in their order find among those of the sample. */
  checkOrder(now: number): void {
    for (const rows of this.taken.values()) {
      rows.forEach(({ values, line }, at) => {
        if (at > 0 && values[0] < rows[at - 1].values[0])
          this.findings.note('out-of-order', line, () => rfc3339(values[0]));
      });
      rows.sort((a, b) => a.values[0] - b.values[0]);
      const column = (at: number) => Float64Array.from(rows, ({ values }) => values[at]);
      const columns = Object.fromEntries(this.columns.map((name, at) => [name, column(at)])) as RecordColumns;
      columns.line = Float64Array.from(rows, ({ line }) => line);
      columns.flags = new Float64Array(rows.length);
      new RecordChecks(this.reading.kind, this.calendar, this.findings, now).check(columns, rows.length);
    }
  }

  private keep(tape: string, values: Float64Array, line: number): void {
    const rows = this.taken.get(tape);
    if (rows) rows.push({ values, line });
    else this.taken.set(tape, [{ values, line }]);
  }

  private shown(values: Float64Array): string[] {
    return Array.from(values, (value, column) => {
      if (column === 0) return rfc3339(value);
      const words = this.records.words[this.records.columns[column]];
      return words ? words[value] : Number.isNaN(value) ? '' : String(value);
    });
  }
}

async function lastRows(tail: Uint8Array, reading: Reading, shown: Preview, isUsable: boolean): Promise<PreviewRow[]> {
  const { rows } = await proposeReading(tail.subarray(tail.indexOf(10) + 1), { ...reading, header: false });
  const text = new TextDecoder(reading.encoding).decode(tail).replace(/(\r\n|\n|\r)$/, '');
  const lastLine = text.slice(Math.max(text.lastIndexOf('\n'), text.lastIndexOf('\r')) + 1);
  // a proposal leaves the last line out, as if it were cut off; here it is the very last
  const cells = [...rows, lastLine.split(reading.delimiter).map((cell) => cell.trim())];
  return cells.slice(-SHOWN_ROWS).map((row) => shown.read(row, 0, isUsable));
}

/** As much of a packed file as its beginning gives. */
async function unpackedStart(head: Uint8Array): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  try {
    for await (const part of unpacked(
      (async function* () {
        yield head;
      })(),
    ))
      parts.push(part);
  } catch (error) {
    if (parts.length === 0) throw error; // else it is the beginning that ends, not the file
  }
  return new Uint8Array(Buffer.concat(parts));
}
