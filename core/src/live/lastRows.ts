import type { BarFrequency, Course } from '../catalogue/functionEntry.js';
import { applyBinary, applyUnary, type Operand } from '../formula/arithmetic.js';
import type { Checked, CheckedCall, Group, GroupPeriod } from '../formula/checked.js';
import { Computer, frequencyOf, needsFullWindow, type EntryColumns } from '../formula/compute.js';
import { frameRows, type Frame } from '../formula/frame.js';
import { firstFullRow } from '../windows/shortStart.js';
import { reachOfWindow, type Slide } from '../windows/window.js';
import type { GrowingRows } from './growingRows.js';

/** What is known of the rows that a call is given: where they begin to have values, and the first that has none after that. */
interface Known {
  start: number;
  gap: number;
}

/** What is kept of a plan from one advance to the next. */
export interface Memory {
  /** What calls gave that carry on from their own values. */
  calls: GrowingRows<CheckedCall>;
  known: Map<CheckedCall, Known>;
  restarts: Map<CheckedCall, Restart[]>;
  /** What is told of all rows together, where a call has asked for it. */
  frequency?: BarFrequency;
}

/** A row that a call may be begun with, and the first row that it then needs. */
interface Restart {
  row: number;
  first: number;
}

/** Whether the last rows of a formula can be worked out from those before them. */
export function carriesOn(tree: Checked): boolean {
  switch (tree.kind) {
    case 'number':
    case 'column':
    case 'entry':
    case 'word':
      return true;
    case 'unary':
      return carriesOn(tree.operand);
    case 'binary':
      return carriesOn(tree.left) && carriesOn(tree.right);
    case 'part':
      return carriesOn(tree.call);
    case 'call':
      return !tree.isWhole && wayOf(tree) !== undefined && tree.columns.every(carriesOn);
    case 'window':
      return reachOfWindow(tree.settings.window!)?.after === 0 && [...tree.columns.values()].every(carriesOn);
    case 'on':
    case 'other':
      return false;
  }
}

/** How the last rows of a call are worked out. */
type Way = 'group' | 'rowwise' | 'carry on' | 'from before' | 'blocks' | 'slide';

function wayOf({ entry, settings, each }: CheckedCall): Way | undefined {
  // rows of other groups may lie anywhere
  if (each) return isOfPeriods(each) ? 'group' : undefined;
  if (entry.rowwise) return 'rowwise';
  if (entry.carryOn) return 'carry on';
  const { window, back } = settings;
  if (back) return 'from before';
  const isOfBars = window?.kind === 'bars';
  if (isOfBars && window.placed !== 'behind') return undefined;
  const isLast = !window || (isOfBars && window.skip === 0);
  if (isLast && entry.reach?.(settings)?.after === 0) return 'blocks';
  return entry.slides ? 'slide' : undefined;
}

const isOfPeriods = ({ by }: Group): boolean => by !== 'column' && by !== 'text';

/** Thrown where rows before those that are new come out otherwise, too. */
class EarlierRowsNeeded extends Error {
  constructor(readonly first: number) {
    super();
  }
}

/** The last rows of formulas, of which those before are known. */
export class LastRows {
  /** The first row that is worked out. */
  private first = 0;

  /** @param from  the first row that is new, or may be another one than it was */
  constructor(
    private readonly frame: Frame,
    private readonly from: number,
    private readonly entries: EntryColumns,
    private readonly memory: Memory,
    private readonly course: Course | undefined,
  ) {}

  /**
   * The columns of a formula from its first new row on, or from a row before it where that comes out otherwise, too.
   * @returns  with the row that they begin with
   */
  lastRows(tree: Checked): { first: number; parts: readonly Float64Array[] } {
    for (let first = this.from; ;) {
      try {
        this.first = first;
        return { first, parts: this.parts(tree, first) };
      } catch (error) {
        if (!(error instanceof EarlierRowsNeeded)) throw error;
        ({ first } = error);
      }
    }
  }

  /** All values of a call, of another formula its one value. */
  private parts(tree: Checked, first: number): readonly Float64Array[] {
    return tree.kind === 'call' ? this.call(tree, first) : [this.filled(this.rows(tree, first), first)];
  }

  private rows(tree: Checked, first: number): Operand {
    switch (tree.kind) {
      case 'number':
        return tree.value;
      case 'column':
        return this.frame.columns[tree.name].subarray(first);
      case 'entry':
        return this.entries.get(tree.part === undefined ? tree.name : `${tree.name}.${tree.part}`)!.subarray(first);
      case 'word':
        return this.computer(first).column(tree);
      case 'unary':
        return applyUnary(tree.operator, this.rows(tree.operand, first));
      case 'binary':
        return applyBinary(tree.operator, this.rows(tree.left, first), this.rows(tree.right, first));
      case 'call':
        return this.call(tree, first)[0];
      case 'part':
        return this.parts(tree.call, first)[tree.index];
      case 'window':
        return this.windows(tree, first);
      case 'on':
      case 'other':
        throw new EarlierRowsNeeded(0);
    }
  }

  private call(call: CheckedCall, first: number): readonly Float64Array[] {
    const { entry, settings } = call;
    switch (wayOf(call)) {
      case 'group':
        return this.group(call, first);
      case 'rowwise':
        return this.computed(call, first, first, this.inputs(call, first));
      case 'carry on':
        return this.carriedOn(call, first);
      case 'from before':
        return this.fromBefore(call, first);
      case 'blocks':
        return this.byBlocks(call, first, entry.reach!(settings)!.before + 1);
      case 'slide':
        return this.slid(call, first);
      case undefined:
        throw new EarlierRowsNeeded(0);
    }
  }

  /** A formula over windows, each of which is taken by itself. */
  private windows(tree: Extract<Checked, { kind: 'window' }>, first: number): Float64Array {
    const from = Math.max(0, first - reachOfWindow(tree.settings.window!)!.before);
    const inputs = [...tree.columns.values()].map((column) => this.filled(this.rows(column, from), from));
    return this.computer(from)
      .windowOn(tree, inputs)
      .subarray(first - from);
  }

  /** Groups that follow each other: from the beginning of the one that the first row lies in. */
  private group(call: CheckedCall, first: number): readonly Float64Array[] {
    const { by } = call.each as { by: GroupPeriod };
    const all = this.computer(0);
    // a gap in a window by bars changes how all windows of its group are summed
    const changed = all.groupStart(by, this.from);
    if (changed < this.first) throw new EarlierRowsNeeded(changed);
    const from = all.groupStart(by, first);
    const parts = this.computer(from).callOn(call, this.inputs(call, from));
    return parts.map((column) => column.subarray(first - from));
  }

  /** A window that is begun anew at the last row before `first` where it was begun anew when all rows went through it. */
  private slid(call: CheckedCall, first: number): readonly Float64Array[] {
    const { restarts } = this.memory;
    const known = first === 0 ? [] : (restarts.get(call) ?? []);
    while (known.length > 0 && known[known.length - 1].row > first) known.pop();
    restarts.set(call, known);
    if (first > 0 && known.length === 0) throw new EarlierRowsNeeded(0);
    const { row, first: from } = known.at(-1) ?? { row: 0, first: 0 };
    return this.computed(call, first, from, this.inputs(call, from), this.slideOf(call, from, row));
  }

  private slideOf(call: CheckedCall, from: number, row: number): Slide {
    const known = this.memory.restarts.get(call)!;
    return {
      from: row - from,
      restart: (row, first) => {
        if (from + row > (known.at(-1)?.row ?? -1)) known.push({ row: from + row, first: from + first });
      },
    };
  }

  /** A move: from the row on that the first row looks back on, where it looks back on time from the last one with a value. */
  private fromBefore(call: CheckedCall, first: number): readonly Float64Array[] {
    const { time } = this.frame;
    const back = call.settings.back!;
    if ('bars' in back) {
      const from = Math.max(0, first - back.bars);
      return this.computed(call, first, from, this.inputs(call, from));
    }
    const { micros } = back;
    let from = first;
    while (from > 0 && time[from] > time[first] - micros) from--;
    for (let step = 1; ; step *= 2) {
      const inputs = this.inputs(call, from);
      if (from === 0 || !Number.isNaN(inputs[0][0])) return this.computed(call, first, from, inputs);
      from = Math.max(0, from - step);
    }
  }

  private carriedOn(call: CheckedCall, first: number): Float64Array[] {
    const { calls } = this.memory;
    const before = first === 0 ? undefined : calls.upTo(call, first);
    const rows = before && call.entry.carryOn!(this.inputs(call, first), call.settings, before);
    if (rows) {
      calls.put(call, first, rows);
      return [rows];
    }
    if (first > 0) throw new EarlierRowsNeeded(0);
    const [values] = this.computed(call, 0, 0, this.inputs(call, 0));
    return [calls.put(call, 0, values)];
  }

  /**
   * Windows are summed by blocks of their own length, from the first value on: rows from one block before come out to the last
   * bit as from the beginning. Not so where there is a gap after the first value; how rows are summed then depends on all.
   */
  private byBlocks(call: CheckedCall, first: number, length: number): readonly Float64Array[] {
    const { known, restarts } = this.memory;
    const { start, gap } = known.get(call) ?? { start: Infinity, gap: Infinity };
    if (gap < first) return this.withGaps(call, first);
    const block = Math.floor((first - start) / length) - 1;
    const from = start < first && block > 0 ? start + block * length : 0;
    const inputs = this.inputs(call, from);
    const now = from === 0 ? knownOf(inputs, 0, Infinity) : knownOf(inputs, from, start);
    known.set(call, now);
    // all windows are summed in another way where the first gap has come, or the only one has gone
    if (this.first > 0 && now.gap < Infinity !== gap < Infinity) throw new EarlierRowsNeeded(0);
    if (first > 0 && now.gap < Infinity) return this.withGaps(call, first);
    restarts.set(call, []);
    return this.computed(call, first, from, inputs, this.slideOf(call, from, from));
  }

  private withGaps(call: CheckedCall, first: number): readonly Float64Array[] {
    if (!call.entry.slides) throw new EarlierRowsNeeded(0);
    return this.slid(call, first);
  }

  /** What a call gives on rows from `first` on, worked out from those from `from` on. */
  private computed(
    { entry, settings }: CheckedCall,
    first: number,
    from: number,
    inputs: readonly Float64Array[],
    slide?: Slide,
  ): readonly Float64Array[] {
    const { rows } = this.computer(from);
    const result = entry.compute(inputs, settings, slide ? { ...rows, slide } : rows);
    const parts = result instanceof Float64Array ? [result] : result;
    const last = parts.map((column) => column.subarray(first - from));
    if (needsFullWindow(settings, entry)) {
      const { rows: all } = this.computer(0);
      const full = firstFullRow(settings.window!, all, all.interval());
      for (const column of last) column.fill(NaN, 0, Math.max(0, full - first));
    }
    return last;
  }

  /** That of all rows; where it has changed, so have all values that are made with it. */
  private readonly barFrequency = (): BarFrequency => {
    const now = frequencyOf(this.frame);
    const before = (this.memory.frequency ??= now);
    this.memory.frequency = now;
    const isSame = now.barsPerDay === before.barsPerDay && now.daysPerYear === before.daysPerYear;
    if (!isSame && this.first > 0) throw new EarlierRowsNeeded(0);
    return now;
  };

  private inputs({ columns }: CheckedCall, from: number): Float64Array[] {
    return columns.map((column) => this.filled(this.rows(column, from), from));
  }

  private filled(x: Operand, from: number): Float64Array {
    return typeof x === 'number' ? new Float64Array(this.frame.time.length - from).fill(x) : x;
  }

  private computer(from: number): Computer {
    const frame = from === 0 ? this.frame : frameRows(this.frame, from, this.frame.time.length);
    return new Computer(frame, this.entries, this.course, this.barFrequency);
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
