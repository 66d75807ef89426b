import { DAY, dateText, HOUR, hourOfDay, pieces, WeekdaySeeker, type Calendar } from '@jaunty-ledger/core';
import { flagBit, type CheckId } from './checks.js';
import type { TapeKind } from '../reading/reading.js';
import { rfc3339 } from '@jaunty-ledger/core';
import type { RecordColumns } from '../records/recordColumns.js';
import type { Findings } from './findings.js';
import { priceColumnOf } from '../records/recordReader.js';

/** Neighbours on each side that a price is held against. */
export const NEIGHBOURS = 5;
/**
 * Robust deviations beyond which a price that comes back is taken for a bad print. Bars move more from one to the next than
 * trades do: a wild day among quiet ones is no misprint.
 */
const BAD_PRINT_DEVIATIONS = { ticks: 8, quotes: 8, series: 20, bars: 20 } as const satisfies Record<TapeKind, number>;
/** A deviation counts at least so much, as a share of the price and in price steps: calm stretches are not suspicious. */
const LEAST_DEVIATION = 0.0005;
/** A gap is told where it is so many times the usual one of its hour of the day. */
const LONG_GAP = 50;
/** Shorter gaps are never told. */
const TOLD_GAP = 60e6;
const TOLD_GAPS = 20;

/** Checks that look at records in their order; they run anew when the records had to be sorted. */
export const ORDERED_CHECKS = [
  'repeat',
  'same-instant',
  'outside',
  'closed-date',
  'future',
  'bad-print',
  'range',
  'crossed',
  'gap',
] as const satisfies readonly CheckId[];

/** Looks at the records of one tape in order of time, a block after the other, and marks what it finds. */
export class RecordChecks {
  private previousTime = -Infinity;
  private previousLine = 0;
  /** The last record of the block before, as a text. */
  private previousValues = '';
  /** Records of the current instant, as texts: exact repeats are looked for among these. */
  private sameInstant = new Set<string>();
  private recent: number[] = [];
  /** The last price that was not a bad print; it is the same wherever a block ends. */
  private held = NaN;
  private insideFrom = Infinity;
  private insideTo = -Infinity;
  private dayFrom = Infinity;
  private dayTo = -Infinity;
  private dayIsOpen = true;
  /** The hour of the day that is being counted, and when it began. */
  private hour = 0;
  private hourFrom = NaN;
  private readonly gapCounts = new Float64Array(24);
  private readonly gapSums = new Float64Array(24);
  private gaps: { from: number; to: number; line: number; hour: number }[] = [];

  /** The dates of the records. */
  readonly days = new WeekdaySeeker();

  constructor(
    private readonly kind: TapeKind,
    private readonly calendar: Calendar,
    private readonly findings: Findings,
    /** Records after this instant are in the future. */
    private readonly now: number,
  ) {}

  /**
   * Checks rows [0, rows) of the block, whose further rows are only looked at as neighbours, and sets their flags.
   * @returns which rows are to be left out, if any
   */
  check(columns: RecordColumns, rows: number): Uint8Array | undefined {
    const { time, flags, line } = columns;
    let leftOut: Uint8Array | undefined;
    const found = (id: CheckId, row: number, says: () => string) => {
      this.findings.note(id, line[row], says);
      const treatment = this.findings.treatmentOf(id);
      if (treatment === 'flag') flags[row] |= flagBit(id);
      if (treatment !== 'leave-out') return;
      this.findings.leaveOut(line[row], says());
      leftOut ??= new Uint8Array(rows);
      leftOut[row] = 1;
    };
    for (let row = this.passOver(time, 0, rows); row < rows; row = this.passOver(time, row + 1, rows)) {
      const at = time[row];
      if (row > 0) this.previousLine = line[row - 1];
      if (at === this.previousTime) this.checkSameInstant(columns, row, found);
      else if (this.sameInstant.size > 0) this.sameInstant.clear();
      if (at < this.insideFrom || at >= this.insideTo) this.checkHours(at, row, found);
      if (at > this.now) found('future', row, () => rfc3339(at));
      if (this.previousTime !== at) this.noteGap(at, line[row]);
      this.previousTime = at;
    }
    this.previousLine = line[rows - 1];
    this.previousValues = valuesOf(columns, rows - 1);
    this.checkPrices(columns, rows, found);
    return leftOut;
  }

  /** Passes over rows that need no closer look: later than the one before, soon after it, in its hour, in the session. */
  private passOver(time: Float64Array, from: number, rows: number): number {
    const { previousTime, hourFrom } = this;
    if (!(previousTime >= this.insideFrom && previousTime >= hourFrom)) return from;
    const before = Math.min(this.insideTo, hourFrom + HOUR, this.now);
    let previous = previousTime;
    let row = from;
    for (; row < rows; row++) {
      const at = time[row];
      if (!(at > previous && at < before && at - previous < TOLD_GAP)) break;
      previous = at;
    }
    if (row === from) return row;
    this.gapCounts[this.hour] += row - from;
    this.gapSums[this.hour] += previous - previousTime;
    this.previousTime = previous;
    this.sameInstant.clear();
    return row;
  }

  /** Tells the gaps that were long for their hour; known only when all records are. */
  finish(): void {
    for (const { from, to, line, hour } of this.gaps) {
      const usual = this.gapSums[hour] / this.gapCounts[hour];
      if (to - from > LONG_GAP * usual && to - from > TOLD_GAP)
        this.findings.note(
          'gap',
          line,
          () =>
            `${rfc3339(from)} to ${rfc3339(to)}, ${((to - from) / 60e6).toFixed(0)} minutes; usual at that hour: ${(usual / 1e6).toFixed(0)} s`,
        );
    }
  }

  private checkSameInstant(columns: RecordColumns, row: number, found: NoteFinding): void {
    const { time } = columns;
    if (this.sameInstant.size === 0) this.sameInstant.add(row > 0 ? valuesOf(columns, row - 1) : this.previousValues);
    const text = valuesOf(columns, row);
    if (this.sameInstant.has(text)) found('repeat', row, () => `as line ${this.previousLine} or one before it`);
    else found('same-instant', row, () => rfc3339(time[row]));
    this.sameInstant.add(text);
  }

  private checkHours(at: number, row: number, found: NoteFinding): void {
    if (at < this.dayFrom || at >= this.dayTo) {
      const day = this.calendar.dayAt(at);
      this.days.add(day.date);
      this.dayFrom = day.startsAt;
      this.dayTo = day.endsAt;
      this.dayIsOpen = day.open;
      this.insideFrom = day.open ? day.opensAt : Infinity;
      this.insideTo = day.open ? this.calendar.sessionEnd(day) : -Infinity;
      if (at >= this.insideFrom && at < this.insideTo) return;
    }
    if (this.dayIsOpen) found('outside', row, () => rfc3339(at));
    else found('closed-date', row, () => dateText(Math.floor(this.calendar.zone.wallAt(at) / DAY)));
  }

  private noteGap(at: number, line: number): void {
    const gap = at - this.previousTime;
    // nights and closed days are no gaps: only within one trading day's hours
    if (!(this.previousTime >= this.insideFrom && at < this.insideTo)) return;
    if (!(this.previousTime >= this.hourFrom && this.previousTime < this.hourFrom + HOUR)) {
      this.hourFrom = Math.floor(this.previousTime / HOUR) * HOUR;
      this.hour = hourOfDay(this.hourFrom);
    }
    const { hour } = this;
    this.gapCounts[hour]++;
    this.gapSums[hour] += gap;
    if (
      gap < TOLD_GAP ||
      (this.gaps.length >= TOLD_GAPS && gap <= this.gaps[TOLD_GAPS - 1].to - this.gaps[TOLD_GAPS - 1].from)
    )
      return;
    this.gaps.push({ from: this.previousTime, to: at, line, hour });
    this.gaps.sort((a, b) => b.to - b.from - (a.to - a.from)).splice(TOLD_GAPS);
  }

  private checkPrices(columns: RecordColumns, rows: number, found: NoteFinding): void {
    const { open, high, low, close, bid, ask } = columns;
    if (this.kind === 'bars')
      for (let row = 0; row < rows; row++) {
        const [least, greatest] = [Math.min(open[row], close[row]), Math.max(open[row], close[row])];
        if (high[row] < low[row] || greatest > high[row] || least < low[row])
          found('range', row, () => `o ${open[row]} h ${high[row]} l ${low[row]} c ${close[row]}`);
      }
    if (this.kind === 'quotes')
      for (let row = 0; row < rows; row++)
        if (bid[row] > ask[row]) found('crossed', row, () => `bid ${bid[row]}, ask ${ask[row]}`);
    this.checkJumps(columns[priceColumnOf(this.kind)], rows, found);
  }

  /** A price far from its neighbours on both sides, which lie near each other: it came back. */
  private checkJumps(price: Float64Array, rows: number, found: NoteFinding): void {
    const deviations = BAD_PRINT_DEVIATIONS[this.kind];
    const near = deviations * LEAST_DEVIATION;
    let held = Number.isNaN(this.held) ? price[0] : this.held;
    for (let from = 0; from < rows;) {
      // most prices lie near the one before; only the others are looked at more closely
      const row = nextJump(price, from, rows, held, near);
      if (row > from) held = price[row - 1];
      if (row === rows) break;
      from = row + 1;
      const value = price[row];
      const before =
        row >= NEIGHBOURS
          ? price.subarray(row - NEIGHBOURS, row)
          : Float64Array.from([...this.recent, ...price.slice(0, row)].slice(-NEIGHBOURS));
      const after = price.subarray(row + 1, row + 1 + NEIGHBOURS);
      // what comes after a bad print is held against the price before it
      if (isBadPrint(value, before, after, deviations))
        found('bad-print', row, () => `${value} among ${[...before.slice(-2), ...after.slice(0, 2)].join(', ')}`);
      else held = value;
    }
    this.held = held;
    this.recent = [...this.recent, ...price.slice(Math.max(0, rows - NEIGHBOURS), rows)].slice(-NEIGHBOURS);
  }
}

/** The first row whose price is further from the one before than `near`, a share of that; `rows` where none is. */
function nextJump(price: Float64Array, first: number, rows: number, held: number, near: number): number {
  let previous = held;
  for (const [from, to] of pieces(first, rows)) {
    const row = jumpIn(price, from, to, previous, near);
    if (row < to) return row;
    previous = price[row - 1];
  }
  return rows;
}

function jumpIn(price: Float64Array, from: number, to: number, held: number, near: number): number {
  let previous = held;
  for (let row = from; row < to; row++) {
    const value = price[row];
    if (Math.abs(value - previous) > near * Math.abs(previous)) return row;
    previous = value;
  }
  return to;
}

type NoteFinding = (id: CheckId, row: number, says: () => string) => void;

function isBadPrint(value: number, before: Float64Array, after: Float64Array, deviations: number): boolean {
  if (before.length < 2 || after.length < 2) return false;
  const around = sorter.take(before, after);
  const centre = sorter.median();
  for (let i = 0; i < around; i++) sorter.values[i] = Math.abs(sorter.values[i] - centre);
  sorter.sort();
  // 1.4826: the median deviation of a normal variable times this is its standard deviation
  const deviation = Math.max(1.4826 * sorter.median(), LEAST_DEVIATION * Math.abs(centre));
  const limit = deviations * deviation;
  if (!(Math.abs(value - centre) > limit)) return false;
  sorter.take(before);
  const middleBefore = sorter.median();
  sorter.take(after);
  return Math.abs(middleBefore - sorter.median()) < limit;
}

/** A few numbers in order. Wild tapes are looked at row by row, so nothing is made anew for each. */
class FewSorted {
  readonly values = new Float64Array(2 * NEIGHBOURS);
  private count = 0;

  /** Takes numbers in, but for those that are missing; gives how many there are. */
  take(...columns: Float64Array[]): number {
    this.count = 0;
    for (const column of columns)
      for (let i = 0; i < column.length; i++) if (column[i] === column[i]) this.values[this.count++] = column[i];
    this.sort();
    return this.count;
  }

  sort(): void {
    const { values, count } = this;
    for (let i = 1; i < count; i++) {
      const value = values[i];
      let at = i;
      for (; at > 0 && values[at - 1] > value; at--) values[at] = values[at - 1];
      values[at] = value;
    }
  }

  median(): number {
    const { values, count } = this;
    const middle = count >> 1;
    return count % 2 === 1 ? values[middle] : (values[middle - 1] + values[middle]) / 2;
  }
}

const sorter = new FewSorted();

/** The values of a record beside its time, as a text that is equal where they are. */
function valuesOf(columns: RecordColumns, row: number): string {
  let text = '';
  for (const name in columns)
    if (name !== 'time' && name !== 'line' && name !== 'flags') text += `${columns[name][row]},`;
  return text;
}
