import { ArgumentError } from '../arguments.js';
import type { BarRule } from '../bars/barKind.js';
import { parseBarRule, printBarRule } from '../bars/barRule.js';
import { frameOf } from '../bars/barFrame.js';
import { joinedOnTime, largerBars, rowsOfLarger } from '../bars/largerBars.js';
import type { BarFrequency, Course, FunctionEntry, RowContext, Settings } from '../catalogue/functionEntry.js';
import { FEWEST_SHARED_ROWS, isDivisible, onTwoThreads } from '../catalogue/sharedRows.js';
import { ModelRefusal } from '../project/outlook.js';
import { makeCalendar, type Calendar } from '../time/calendar.js';
import { barFrequencyOf } from '../volatility/barFrequency.js';
import { firstFullRow, type BarInterval } from '../windows/shortStart.js';
import { DAY, SECOND, type Instant } from '../time/instant.js';
import { periodStart, type PeriodUnit } from '../time/periods.js';
import { applyBinary, applyUnary, type Operand } from './arithmetic.js';
import type { Checked, CheckedCall, Group, GroupPeriod } from './checked.js';
import type { Frame } from './frame.js';
import { overWindows } from './windowCall.js';
import { FormulaError } from './tree.js';

/** Columns of entries, and how to come by those of the ones that are not computed yet. */
export interface EntryColumns {
  /** The column of an entry, or of a part of it. */
  get: (name: string) => Float64Array | undefined;
  /** The checked formula of an entry, to compute it on other rows. */
  treeOf: (name: string) => Checked | undefined;
}

type CheckedWindow = Extract<Checked, { kind: 'window' }>;

const calendarOf = ({ calendar }: Frame): Calendar => calendar ?? makeCalendar({ zone: 'UTC' });

/** How many bars of a frame make a day, and days a year. */
export const frequencyOf = (frame: Frame): BarFrequency => barFrequencyOf(frame.time, calendarOf(frame), frame.rule);

/** How far apart the bars of a frame follow each other; undefined for rows at any time. */
function intervalOf({ interval, rule }: Frame): BarInterval | undefined {
  if (interval || rule === undefined) return interval;
  const { kind } = parseBarRule(rule);
  if (kind.by === 'interval') return { seconds: kind.micros / SECOND };
  return kind.by === 'period' ? INTERVALS[kind.unit] : undefined;
}

const INTERVALS: Readonly<Record<PeriodUnit, BarInterval>> = {
  day: { seconds: DAY / SECOND },
  week: { seconds: (7 * DAY) / SECOND },
  month: { months: 1 },
  quarter: { months: 3 },
  year: { months: 12 },
};

/** Evaluates checked formulas on one frame. @param barFrequency  where the frame is a part of another one, that of the whole */
export class Computer {
  /** What functions are told of the rows beside their columns. */
  readonly rows: RowContext;
  private readonly calendar: Calendar;

  constructor(
    private readonly frame: Frame,
    private readonly entries: EntryColumns,
    private readonly course: Course = {},
    barFrequency: () => BarFrequency = () => frequencyOf(frame),
  ) {
    this.calendar = calendarOf(frame);
    this.rows = {
      time: frame.time,
      calendar: this.calendar,
      barFrequency,
      interval: () => intervalOf(frame),
      ...course,
    };
  }

  column(tree: Checked): Float64Array {
    return this.filled(this.compute(tree));
  }

  /** All values of a call with several, in the order of its parts; of another formula its one value. */
  columns(tree: Checked): Float64Array[] {
    return tree.kind === 'call' ? this.call(tree) : [this.column(tree)];
  }

  private filled(x: Operand): Float64Array {
    return typeof x === 'number' ? new Float64Array(this.frame.time.length).fill(x) : x;
  }

  private compute(tree: Checked): Operand {
    switch (tree.kind) {
      case 'number':
        return tree.value;
      case 'column':
        return this.frame.columns[tree.name];
      case 'word':
        return this.saysWord(tree);
      case 'other': {
        const other = this.frame.others![tree.tape];
        return joinedOnTime(this.frame.time, other.time, other.columns[tree.column]);
      }
      case 'entry':
        return this.entries.get(tree.part === undefined ? tree.name : `${tree.name}.${tree.part}`)!;
      case 'unary':
        return applyUnary(tree.operator, this.compute(tree.operand));
      case 'binary':
        return applyBinary(tree.operator, this.compute(tree.left), this.compute(tree.right));
      case 'call': {
        const [value] = this.call(tree);
        return tree.isWhole ? value[value.length - 1] : value;
      }
      case 'part':
        return this.columns(tree.call)[tree.index];
      case 'on':
        return this.onLarger(tree);
      case 'window':
        return this.overWindow(tree);
    }
  }

  /** Missing where the column says nothing. */
  private saysWord({ column, word, isOther }: Extract<Checked, { kind: 'word' }>): Float64Array {
    const wanted = this.frame.words?.get(column)?.indexOf(word) ?? -1;
    return this.frame.texts![column].map((code) => (code >= 0 ? Number((code === wanted) !== isOther) : NaN));
  }

  private call(call: CheckedCall): Float64Array[] {
    return this.callOn(
      call,
      call.columns.map((column) => this.column(column)),
    );
  }

  /** What a call gives on columns that are known. */
  callOn({ entry, settings, each }: CheckedCall, inputs: readonly Float64Array[]): Float64Array[] {
    const all = (given: readonly Float64Array[], rows: RowContext): Float64Array[] => {
      const isShared = rows.other && isDivisible(entry) && given[0].length >= FEWEST_SHARED_ROWS;
      const result = isShared
        ? onTwoThreads(entry, given, settings, rows.other!, rows.progress)
        : computed(entry, given, settings, rows);
      const parts = result instanceof Float64Array ? [result] : [...result];
      if (needsFullWindow(settings, entry)) {
        const full = firstFullRow(settings.window!, rows, rows.interval());
        for (const column of parts) column.fill(NaN, 0, full);
      }
      return parts;
    };
    if (!each) return all(inputs, this.rows);
    const out: Float64Array[] = [];
    const groups = this.groups(each);
    for (const [index, rows] of groups.entries()) {
      this.course.progress?.(index / groups.length);
      const times = { ...this.rows, time: gathered(this.frame.time, rows), progress: undefined };
      all(
        inputs.map((column) => gathered(column, rows)),
        times,
      ).forEach((values, part) => {
        out[part] ??= new Float64Array(this.frame.time.length).fill(NaN);
        rows.forEach((row, index) => (out[part][row] = values[index]));
      });
    }
    // rows that are in no group have no value; how many values there would be, the function tells
    return out.length > 0 ? out : all(inputs, this.rows).map(({ length }) => new Float64Array(length).fill(NaN));
  }

  /** The rows of each group, in order. Rows without a value of the group's column are in none. */
  private groups(each: Group): Int32Array[] {
    const { time } = this.frame;
    const keys = this.keysOf(each);
    const byKey = new Map<number, number[]>();
    for (let row = 0; row < time.length; row++) {
      if (Number.isNaN(keys[row])) continue;
      const rows = byKey.get(keys[row]);
      if (rows) rows.push(row);
      else byKey.set(keys[row], [row]);
    }
    return [...byKey.values()].map((rows) => Int32Array.from(rows));
  }

  private keysOf(each: Group): Float64Array {
    if (each.by === 'column') return this.column(each.column);
    return each.by === 'text' ? this.frame.texts![each.name] : this.dayKeys(each.by);
  }

  private dayKeys(by: GroupPeriod): Float64Array {
    return this.frame.time.map((at) => this.dayKey(by, at));
  }

  private dayKey(by: GroupPeriod, at: Instant): number {
    return periodStart(this.calendar.dayAt(at).date, by === 'week' ? 'week' : 'day');
  }

  /** The first row of the group that a row lies in; behind the last row there is none. */
  groupStart(by: GroupPeriod, row: number): number {
    const { time } = this.frame;
    if (row >= time.length) return time.length;
    const key = this.dayKey(by, time[row]);
    let start = row;
    while (start > 0 && this.dayKey(by, time[start - 1]) === key) start--;
    return start;
  }

  private onLarger({ operand, rule, forming }: Extract<Checked, { kind: 'on' }>): Float64Array {
    const larger = largerFrame(this.frame, rule, this.calendar);
    const done = new Map<string, Float64Array>();
    // entries that the formula uses are computed on the larger bars too
    const entries: EntryColumns = {
      treeOf: this.entries.treeOf,
      get: (name) => {
        const [entry] = name.split('.');
        if (!done.has(name)) {
          const tree = this.entries.treeOf(entry)!;
          const parts = tree.kind === 'call' ? (tree.entry.parts ?? []) : [];
          computer.columns(tree).forEach((values, index) => {
            if (index === 0) done.set(entry, values);
            if (parts[index]) done.set(`${entry}.${parts[index].name}`, values);
          });
        }
        return done.get(name);
      },
    };
    const computer = new Computer(larger, entries, this.course);
    const values = computer.column(operand);
    const { time, end } = this.frame;
    const rows = rowsOfLarger({ time, end: end! }, { time: larger.time, end: larger.end! }, forming);
    return Float64Array.from(rows, (row) => (row < 0 ? NaN : values[row]));
  }

  private overWindow(call: CheckedWindow): Float64Array {
    return this.windowOn(
      call,
      [...call.columns.values()].map((column) => this.column(column)),
    );
  }

  /** What a formula over windows gives on columns that are known. */
  windowOn({ formula, columns, settings, at }: CheckedWindow, inputs: readonly Float64Array[]): Float64Array {
    const names = [...columns.keys()];
    const { time } = this.frame;
    const values = overWindows(inputs, settings, this.rows, at, (first, end) => {
      const part = Object.fromEntries(names.map((name, index) => [name, inputs[index].subarray(first, end)]));
      const frame = { time: time.subarray(first, end), columns: part, calendar: this.calendar };
      const value = new Computer(frame, this.entries).compute(formula);
      return typeof value === 'number' ? value : value[value.length - 1];
    });
    return needsFullWindow(settings)
      ? values.fill(NaN, 0, firstFullRow(settings.window!, this.rows, this.rows.interval()))
      : values;
  }
}

/** Whether rows whose window in time begins before the first row have no value. */
export const needsFullWindow = ({ window, numbers }: Settings, entry?: FunctionEntry): boolean =>
  (window?.kind === 'time' || window?.kind === 'months') && numbers.from === undefined && !entry?.startsEarly;

/** @throws {FormulaError} where a model cannot have the values */
function computed(entry: FunctionEntry, given: readonly Float64Array[], settings: Settings, rows: RowContext) {
  try {
    return entry.compute(given, settings, rows);
  } catch (error) {
    if (!(error instanceof ModelRefusal)) throw error;
    throw new FormulaError(error.message, 0);
  }
}

const gathered = (column: Float64Array, rows: Int32Array): Float64Array =>
  Float64Array.from(rows, (row) => column[row]);

/** Larger frames by frame and rule: entries ask for the same ones again and again. */
const largerFrames = new WeakMap<Frame, Map<string, Frame>>();

function largerFrame(frame: Frame, rule: BarRule, calendar: Calendar): Frame {
  const byRule = largerFrames.get(frame) ?? new Map<string, Frame>();
  largerFrames.set(frame, byRule);
  const text = printBarRule(rule);
  const known = byRule.get(text);
  if (known) return known;
  try {
    const columns = { ...frame.columns, ...(frame.end && { end: frame.end }) };
    const bars = largerBars(frame.time, columns, rule, calendar, frame.texts);
    const larger = frameOf(bars, calendar, { rule: text, words: frame.words, aliases: frame.aliases });
    byRule.set(text, larger);
    return larger;
  } catch (error) {
    if (!(error instanceof ArgumentError)) throw error;
    throw new FormulaError(`\`on ${text}\` does not go with these bars: ${error.message}`, 0);
  }
}
