import type { Course } from '../catalogue/functionEntry.js';
import { applyBinary, applyUnary, type Operand } from '../formula/arithmetic.js';
import type { Checked, CheckedCall } from '../formula/checked.js';
import { Computer, type EntryColumns } from '../formula/compute.js';
import { frameRows, type Column, type Frame } from '../formula/frame.js';
import { planEntries, type KnownNames, type Plan } from '../formula/plan.js';
import { Work } from '../formula/evaluate.js';
import { GrowingRows } from './growingRows.js';

/** A column that was brought up to date. */
export interface LiveColumn extends Column {
  /** The first row whose value is another one than before; the number of rows where none is. */
  changedFrom: number;
}

/** What is known of the rows that a call is given: where they begin to have values, and the first that has none after that. */
interface Known {
  start: number;
  gap: number;
}

/**
 * Columns of formulas over rows that arrive. After each `advance` they are bit for bit what `evaluate` gives on all rows.
 *
 * Rows that stand by themselves, moves and exponential averages cost O(1) a new row. A function over a window of N bars is
 * worked out again on the rows it reaches, O(N). What may depend on any row is worked out anew, O(rows), and held against
 * what was there before.
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
      const tail = (memory: Memory, entries: EntryColumns) => new Tail(frame, entries, memory, course);
      const columns = this.columnsOf(plan, firstRow(plan, from, now), before, work, tail);
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
    tailOf: (memory: Memory, entries: EntryColumns) => Tail,
  ): LiveColumn[] {
    const { name, parts, tree, looksAhead, ahead } = plan;
    const entries: EntryColumns = {
      get: (wanted) => (this.columns.get(wanted) ?? this.columns.get(wanted.split('.')[0])!).values,
      treeOf: (wanted) => this.plans.find((one) => one.name === wanted)?.tree,
    };
    const from = before.has(name) ? first : 0;
    const memory = this.memories.get(plan) ?? { calls: new GrowingRows(), known: new Map() };
    const rows = tailOf(memory, entries).parts(tree, from);
    // what was not looked at this time is not known any more
    if (rows) this.memories.set(plan, memory);
    else this.memories.delete(plan);
    const start = rows ? from : 0;
    const found = rows ?? work.compute(plan).map(({ values }) => values);
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

/** What is kept of a plan from one advance to the next. */
interface Memory {
  /** What calls gave that carry on from their own values. */
  calls: GrowingRows<CheckedCall>;
  known: Map<CheckedCall, Known>;
}

/** The first row on which a plan may come out otherwise, by what it is made of. */
function firstRow({ uses, reach, tapes, looksAhead }: Plan, from: number, columns: Columns): number {
  // another tape may have other records at any time
  if (tapes.length > 0 || (looksAhead && !reach)) return 0;
  let first = from;
  for (const { name, part, changedFrom } of columns.values())
    if (uses.includes(part === '' ? name : name.slice(0, -part.length - 1))) first = Math.min(first, changedFrom);
  return Math.max(0, first - (reach?.after ?? 0));
}

/** The last rows of formulas, of which those before are known. Nothing comes where all rows have to be worked out. */
class Tail {
  constructor(
    private readonly frame: Frame,
    private readonly entries: EntryColumns,
    private readonly memory: Memory,
    private readonly course: Course | undefined,
  ) {}

  /** All values of a call, of another formula its one value, from a row on. */
  parts(tree: Checked, first: number): readonly Float64Array[] | undefined {
    if (tree.kind === 'call') return this.call(tree, first);
    const value = this.rows(tree, first);
    return value === undefined ? undefined : [this.filled(value, first)];
  }

  private rows(tree: Checked, first: number): Operand | undefined {
    switch (tree.kind) {
      case 'number':
        return tree.value;
      case 'column':
        return this.frame.columns[tree.name].subarray(first);
      case 'entry':
        return this.entries.get(tree.part === undefined ? tree.name : `${tree.name}.${tree.part}`)!.subarray(first);
      case 'word':
        return this.computer(first).column(tree);
      case 'unary': {
        const operand = this.rows(tree.operand, first);
        return operand === undefined ? undefined : applyUnary(tree.operator, operand);
      }
      case 'binary': {
        const left = this.rows(tree.left, first);
        const right = left === undefined ? undefined : this.rows(tree.right, first);
        return left === undefined || right === undefined ? undefined : applyBinary(tree.operator, left, right);
      }
      case 'call':
        return this.call(tree, first)?.[0];
      case 'part':
        return this.parts(tree.call, first)?.[tree.index];
      case 'window':
      case 'on':
      case 'other':
        return undefined;
    }
  }

  private call(call: CheckedCall, first: number): readonly Float64Array[] | undefined {
    const { entry, settings, each, isWhole } = call;
    if (each || isWhole) return undefined;
    if (entry.rowwise) return this.computed(call, first, this.inputs(call, first));
    if (entry.carryOn) return this.carriedOn(call, first);
    const reach = entry.reach?.(settings);
    // other windows are summed about other rows
    const { window } = settings;
    const isLast = !window || (window.kind === 'bars' && window.placed === 'behind' && window.skip === 0);
    return reach && reach.after === 0 && isLast ? this.byBlocks(call, first, reach.before + 1) : undefined;
  }

  private carriedOn(call: CheckedCall, first: number): Float64Array[] | undefined {
    const { entry, settings } = call;
    const before = first === 0 ? undefined : this.memory.calls.upTo(call, first);
    const inputs = this.inputs(call, before ? first : 0);
    if (!inputs) return undefined;
    const rows = before && entry.carryOn!(inputs, settings, before);
    if (rows) {
      this.memory.calls.put(call, first, rows);
      return [rows];
    }
    const whole = before ? this.inputs(call, 0) : inputs;
    const values = whole && this.computed(call, 0, whole)?.[0];
    return values && [this.memory.calls.put(call, 0, values).subarray(first)];
  }

  /**
   * Windows are summed by blocks of their own length, from the first value on: rows from one block before come out to the last
   * bit as from the beginning. Not so where there is a gap after the first value; how rows are summed then depends on all.
   */
  private byBlocks(call: CheckedCall, first: number, length: number): readonly Float64Array[] | undefined {
    const { known } = this.memory;
    const { start, gap } = known.get(call) ?? { start: Infinity, gap: Infinity };
    if (gap < first) return undefined;
    const block = Math.floor((first - start) / length) - 1;
    const from = start < first && block > 0 ? start + block * length : 0;
    const inputs = this.inputs(call, from);
    if (!inputs) return undefined;
    const now = from === 0 ? knownOf(inputs, 0, Infinity) : knownOf(inputs, from, start);
    known.set(call, now);
    if (now.gap < Infinity && first > 0) return undefined;
    return this.computed(call, from, inputs)?.map((column) => column.subarray(first - from));
  }

  /** What a call gives on rows from `from` on. */
  private computed(
    { entry, settings }: CheckedCall,
    from: number,
    inputs: readonly Float64Array[] | undefined,
  ): readonly Float64Array[] | undefined {
    if (!inputs) return undefined;
    const result = entry.compute(inputs, settings, this.computer(from).rows);
    return result instanceof Float64Array ? [result] : result;
  }

  private inputs({ columns }: CheckedCall, from: number): Float64Array[] | undefined {
    const inputs: Float64Array[] = [];
    for (const column of columns) {
      const rows = this.rows(column, from);
      if (rows === undefined) return undefined;
      inputs.push(this.filled(rows, from));
    }
    return inputs;
  }

  private filled(x: Operand, from: number): Float64Array {
    return typeof x === 'number' ? new Float64Array(this.frame.time.length - from).fill(x) : x;
  }

  private computer(from: number): Computer {
    return new Computer(frameRows(this.frame, from, this.frame.time.length), this.entries, this.course);
  }
}

/** Where some columns begin to have values in all, and the first row without one after that. */
function knownOf(columns: readonly Float64Array[], from: number, start: number): Known {
  const rows = columns[0]?.length ?? 0;
  const isValid = (row: number) => columns.every((column) => column[row] - column[row] === 0);
  for (let row = 0; row < rows; row++) {
    if (!isValid(row)) {
      if (from + row > start) return { start, gap: from + row };
    } else if (start === Infinity) start = from + row;
  }
  return { start, gap: Infinity };
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
