import type { Course } from '../catalogue/functionEntry.js';
import type { EntryColumns } from '../formula/compute.js';
import type { Column, Frame } from '../formula/frame.js';
import { planEntries, type KnownNames, type Plan } from '../formula/plan.js';
import { Work } from '../formula/evaluate.js';
import { GrowingRows } from './growingRows.js';
import { carriesOn, LastRows, type Memory } from './lastRows.js';

/** A column that was brought up to date. */
export interface LiveColumn extends Column {
  /** The first row whose value is another one than before; the number of rows where none is. */
  changedFrom: number;
}

/**
 * Columns of formulas over rows that arrive. After each `advance` they are bit for bit what `evaluate` gives on all rows.
 *
 * Rows that stand by themselves, moves and exponential averages cost O(1) a new row. Windows are worked out again on the rows
 * that the last ones reach, O(N) for N rows in each, and so are groups of days and weeks. What may depend on any row, as sums
 * over all do, is worked out anew, O(rows), and held against what was there before; so are larger bars (`on`), groups by a
 * column, and functions that are no plain windows where their columns have gaps.
 * @see definitions, section 14
 */
export class LiveColumns {
  private readonly plans: Plan[];
  private readonly values = new GrowingRows<string>();
  private readonly memories = new Map<Plan, Memory>();
  private columns = new Map<string, LiveColumn>();

  /** @throws {FormulaError} with the entry, the place in it and what would be right */
  constructor(entries: readonly string[], names: KnownNames) {
    this.plans = planEntries(entries, names);
  }

  /**
   * Brings the columns up to date.
   * @param frame  all rows
   * @param from   the first row that is new, or other than it was
   * @returns      the columns in the order of the entries, as `evaluate` gives them. Their arrays are written over by the next
   *   advance.
   * @param course  told how far long work is; it may throw to stop
   * @throws {FormulaError} where a formula asks for what these rows cannot give; the next advance then begins anew
   */
  advance(frame: Frame, from: number, course?: Course): LiveColumn[] {
    try {
      return this.advanced(frame, from, course);
    } catch (error) {
      this.columns = new Map();
      this.memories.clear();
      throw error;
    }
  }

  private advanced(frame: Frame, from: number, course?: Course): LiveColumn[] {
    const before = this.columns;
    const now = (this.columns = new Map());
    const work = new Work(frame, this.plans, course);
    const done = this.plans.flatMap((plan, at) => {
      course?.progress?.(at / this.plans.length);
      const lastRowsOf = (memory: Memory, entries: EntryColumns, first: number) =>
        new LastRows(frame, first, entries, memory, course);
      const columns = this.columnsOf(plan, firstRow(plan, from, now), before, work, lastRowsOf);
      for (const column of columns) {
        work.keep(plan, column);
        now.set(column.name, column);
      }
      return columns.map((column) => ({ plan, column }));
    });
    return done.sort((a, b) => a.plan.entryIndex - b.plan.entryIndex).map(({ column }) => column);
  }

  private columnsOf(
    plan: Plan,
    first: number,
    before: Columns,
    work: Work,
    lastRowsOf: (memory: Memory, entries: EntryColumns, from: number) => LastRows,
  ): LiveColumn[] {
    const { name, parts, tree, looksAhead, ahead } = plan;
    const entries: EntryColumns = {
      get: (wanted) => (this.columns.get(wanted) ?? this.columns.get(wanted.split('.')[0])!).values,
      treeOf: (wanted) => this.plans.find((one) => one.name === wanted)?.tree,
    };
    const from = before.has(name) ? first : 0;
    const memory = this.memories.get(plan) ?? { calls: new GrowingRows(), known: new Map(), restarts: new Map() };
    this.memories.set(plan, memory);
    const rows = carriesOn(tree) ? lastRowsOf(memory, entries, from).lastRows(tree) : undefined;
    const start = rows?.first ?? 0;
    const found = rows?.parts ?? work.compute(plan).map(({ values }) => values);
    return found.map((changed, index) => {
      const part = index === 0 ? '' : parts[index].name;
      const columnName = part === '' ? name : `${name}.${part}`;
      const old = before.get(columnName);
      const changedFrom = old ? start + firstDifference(old.values.subarray(start), changed) : 0;
      const values = this.values.put(columnName, start, changed);
      const known = old && old.firstValid < start ? old.firstValid : start + firstValid(changed);
      return { name: columnName, part, values, looksAhead, ahead, firstValid: known, changedFrom };
    });
  }
}

type Columns = ReadonlyMap<string, LiveColumn>;

/** The first row on which a plan may come out otherwise, by what it is made of. */
function firstRow({ uses, reach, tapes, looksAhead }: Plan, from: number, columns: Columns): number {
  // another tape may have other records at any time
  if (tapes.length > 0 || (looksAhead && !reach)) return 0;
  let first = from;
  for (const { name, part, changedFrom } of columns.values())
    if (uses.includes(part === '' ? name : name.slice(0, -part.length - 1))) first = Math.min(first, changedFrom);
  return Math.max(0, first - (reach?.after ?? 0));
}

function firstDifference(old: Float64Array, values: Float64Array): number {
  const rows = Math.min(old.length, values.length);
  for (let row = 0; row < rows; row++) if (!Object.is(old[row], values[row])) return row;
  return rows;
}

/** The first row that has a value; the number of rows where none has. */
function firstValid(values: Float64Array): number {
  const row = values.findIndex((value) => !Number.isNaN(value));
  return row < 0 ? values.length : row;
}
