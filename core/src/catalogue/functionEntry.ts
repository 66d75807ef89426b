import type { Unit } from './units.js';
import type { BarInterval } from '../windows/shortStart.js';
import type { Reach, RowTimes, Window } from '../windows/window.js';

/** How far back: rows, or elapsed time. */
export type Lookback = { bars: number } | { micros: number };

/** An argument by position. */
export type Parameter =
  /** With `more` any further arguments are columns, too. */
  | { kind: 'column'; name: string; says: string; more?: true }
  | { kind: 'window'; name: string; says: string; required: boolean }
  /** In quotes. */
  | { kind: 'text'; name: string; says: string; example: string }
  | { kind: 'back'; name: string; says: string; default: number }
  | { kind: 'number'; name: string; says: string; above: number; max: number; whole?: boolean; default: number };

/** An argument by name. */
export type OptionRule =
  | { kind: 'whole'; says: string; min: number }
  | { kind: 'number'; says: string; above: number; max: number }
  | { kind: 'share'; says: string }
  | { kind: 'word'; says: string; words: readonly string[] }
  | { kind: 'stretch'; says: string };

/** The arguments of a call that are no columns, as the checker has read them. */
export interface Settings {
  window?: Window;
  back?: Lookback;
  /** Numbers and texts by position, and options that were given, by name. */
  numbers: Readonly<Record<string, number>>;
  words: Readonly<Record<string, string>>;
  stretches: Readonly<Record<string, Lookback>>;
}

/** How many bars make a day, and days a year: what a volatility per bar is carried over by. */
export interface BarFrequency {
  barsPerDay: number;
  daysPerYear: number;
}

/** Rows of a function that are worked out apart from those before them. */
export interface RowsOrder {
  /** Of the function. */
  name: string;
  columns: readonly Float64Array[];
  settings: Settings;
  /** The row to begin with. */
  first: number;
}

/** Another thread that can take the later rows of something long over. */
export interface OtherThread {
  /** Begins with some rows. @param parts  columns of the result @returns how to wait for them, and how to give them up */
  begin: (order: RowsOrder, parts: number) => { wait: () => readonly Float64Array[]; giveUp: () => void };
}

/** How long work tells of itself, and who helps with it. */
export interface Course {
  /** Told the share that is done, 0 to 1; it may throw to stop. */
  progress?: (share: number) => void;
  /** Another thread that takes over part of what is very long. */
  other?: OtherThread;
}

/** What a function is told of the rows beside its columns. */
export interface RowContext extends RowTimes, Course {
  barFrequency: () => BarFrequency;
  /** How far apart the rows follow each other; undefined where they do so at any time. */
  interval: () => BarInterval | undefined;
}

/** One of several values that a function gives. */
export interface Part {
  name: string;
  says: string;
  /** Its unit, where it is not that of the function. */
  unit?: Unit;
  /** Whether an entry draws it beside the function's own value. */
  drawn: boolean;
  /** What it is beside the others, where it is not drawn as they are: an edge of a band, or a difference, which stands on zero. */
  role?: PartRole;
}
export type PartRole = 'upper' | 'lower' | 'difference';

/** One line of a working. */
export interface Step {
  says: string;
  value: number;
}

/** A call at one row, for its working. */
export interface CallAtRow {
  settings: Settings;
  /** Its columns, and what each is in words. */
  columns: readonly Float64Array[];
  phrases: readonly string[];
  row: number;
  times: RowTimes;
}

/** How the value of a call at one row came about, so that it can be followed with a pocket calculator. */
export interface CallWorking {
  steps: Step[];
  /** The same value worked out anew in the plainest way, where it can be. */
  recomputed?: number;
  /** The rows it is made of: their numbers, and what stands in each. */
  rows?: { at: number[]; names: string[]; columns: number[][] };
  /** Points with a line through them, for what is a slope. */
  fit?: { x: number[]; y: number[]; xName: string; yName: string; slope: number; intercept: number };
}

/** One function of the notation. The checker, the completion, the help and the API all read this and keep no list of their own. */
export interface FunctionEntry {
  name: string;
  parameters: readonly Parameter[];
  options: Readonly<Record<string, OptionRule>>;
  /** Further names of options, which mean the same. */
  optionAliases?: Readonly<Record<string, string>>;
  /** Columns of the bars that it reads beside its arguments; they come after those. */
  reads?: readonly string[];
  /** Several values, of which the first is the one that the call itself stands for. */
  parts?: readonly Part[];
  /** Whether each row stands by itself, so that there is nothing to restart with `each`. */
  rowwise?: boolean;
  /** Unit of the result from the units of the column arguments. */
  unit: (units: readonly Unit[]) => Unit;
  /** What it does, for readers. */
  sentence: string;
  /** More that one should know, for the help page. */
  remark?: string;
  /** The same with arguments filled in: `mean of close over 20 bars`. */
  phrase: (columns: readonly string[], settings: Settings) => string;
  formula: string;
  example: string;
  /** Section of the definitions page. */
  definition: string;
  source: string;
  cost: string;
  /** What is wrong with arguments that are right one by one; nothing if nothing is. */
  refuse?: (settings: Settings) => string | undefined;
  looksAhead?: (settings: Settings) => boolean;
  /**
   * Bars that its values stand later than the rows they are given on, where they are of bars to come. Such a function stands
   * alone in its entry.
   */
  ahead?: (settings: Settings) => number;
  /**
   * Rows about its own that a value is made of; undefined where it may depend on all before it, as averages do that go on
   * for ever. A function whose rows stand by themselves need not say so.
   */
  reach?: (settings: Settings) => Reach | undefined;
  /**
   * The same for rows from `first` on, for what is so long that two threads share it. Those before are looked back on, as
   * far as `reach` says, and get no value.
   */
  computeFrom?: (
    columns: readonly Float64Array[],
    settings: Settings,
    first: number,
    progress?: (share: number) => void,
  ) => readonly Float64Array[];
  /**
   * Its last rows, for what goes on for ever but is made of its own value before and what is new.
   * @param columns  rows of its columns, from the first that is new
   * @param values   its own values on all rows before
   * @returns        undefined where it takes more than that
   */
  carryOn?: (
    columns: readonly Float64Array[],
    settings: Settings,
    values: Float64Array,
  ) => Float64Array<ArrayBuffer> | undefined;
  /** Whether it has values before a window in time is full, as counts have. */
  startsEarly?: true;
  /** Whether its columns go as they are into one window that slides over them and tells where it may be begun anew. */
  slides?: boolean;
  /** How a value came about; if not given, only what the call was given is shown. */
  working?: (call: CallAtRow) => CallWorking;
  /** A column, or one for each part. The columns it is given stay as they are. */
  compute: (
    columns: readonly Float64Array[],
    settings: Settings,
    rows: RowContext,
  ) => Float64Array | readonly Float64Array[];
}

export const COLUMN_X: Parameter = { kind: 'column', name: 'x', says: 'the values' };
