import type { RowTimes, Window } from '../windows/window.js';

/** What a value is measured in. It decides the lane and the number format, and what may be added to what. */
export type Unit = 'price' | 'units' | 'value' | 'trades' | 'fraction' | 'number' | 'truth';

/** How far back: rows, or elapsed time. */
export type Stretch = { bars: number } | { micros: number };

/** An argument by position. */
export type Parameter =
  | { kind: 'column'; name: string; says: string }
  | { kind: 'window'; name: string; says: string; required: boolean }
  | { kind: 'back'; name: string; says: string; default: number };

/** An argument by name. */
export type OptionRule =
  | { kind: 'whole'; says: string; min: number }
  | { kind: 'number'; says: string; above: number; max: number }
  | { kind: 'word'; says: string; words: readonly string[] }
  | { kind: 'stretch'; says: string };

/** The arguments of a call that are no columns, as the checker has read them. */
export interface Settings {
  window?: Window;
  back?: Stretch;
  /** Options that were given, by name. */
  numbers: Readonly<Record<string, number>>;
  words: Readonly<Record<string, string>>;
  stretches: Readonly<Record<string, Stretch>>;
}

/** One function of the notation. The checker, the completion, the help and the API all read this and keep no list of their own. */
export interface FunctionEntry {
  name: string;
  parameters: readonly Parameter[];
  options: Readonly<Record<string, OptionRule>>;
  /** Unit of the result from the units of the column arguments. */
  unit: (units: readonly Unit[]) => Unit;
  /** What it does, for readers. */
  sentence: string;
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
  compute: (columns: readonly Float64Array[], settings: Settings, rows: RowTimes) => Float64Array;
}

export const unitOfX = (units: readonly Unit[]): Unit => units[0];
