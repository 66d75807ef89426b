import type { BarRule } from '../bars/barKind.js';
import type { FunctionEntry, Part, Settings } from '../catalogue/functionEntry.js';
import type { Unit } from '../catalogue/units.js';
import type { BinaryOperator, Span, UnaryOperator } from './tree.js';

/** What a function restarts or runs by: trading days and weeks, words of a text column, or the values of a column. */
export type GroupPeriod = 'session' | 'day' | 'week';
export type Group = { by: GroupPeriod } | { by: 'text'; name: string } | { by: 'column'; column: Checked };

/** A formula whose names are known and whose arguments fit. */
export type Checked = { unit: Unit; looksAhead: boolean; phrase: string } & (
  | { kind: 'number'; value: number }
  | { kind: 'column'; name: string }
  /** Whether a text column says a word, or anything else. */
  | { kind: 'word'; column: string; word: string; isOther: boolean }
  /** A column of another tape. */
  | { kind: 'other'; tape: string; column: string }
  | { kind: 'entry'; name: string; part?: string }
  | { kind: 'unary'; operator: UnaryOperator; operand: Checked }
  | { kind: 'binary'; operator: BinaryOperator; left: Checked; right: Checked }
  | CheckedCall
  | { kind: 'part'; call: Checked; index: number }
  | { kind: 'on'; operand: Checked; rule: BarRule; forming: boolean }
  /** A formula over the values of each window: `columns` under the names that it knows them by. */
  | { kind: 'window'; formula: Checked; columns: ReadonlyMap<string, Checked>; settings: Settings; at: Span }
);

export interface CheckedCall {
  kind: 'call';
  entry: FunctionEntry;
  columns: Checked[];
  settings: Settings;
  each?: Group;
  /** One value of a whole window, the same for each of its rows. */
  isWhole: boolean;
}

/** What names may stand for. */
export interface Scope {
  /** Columns of the frame. */
  columns: ReadonlySet<string>;
  /** Text columns, which tell groups and are compared with words. */
  texts?: ReadonlySet<string>;
  /** The words of text columns, where they are known. */
  words?: ReadonlyMap<string, readonly string[]>;
  /** The name of the tape itself. */
  self?: string;
  /** Columns by further names. */
  aliases?: ReadonlyMap<string, string>;
  /** Those of other tapes. */
  otherAliases?: ReadonlyMap<string, ReadonlyMap<string, string>>;
  /** Columns of other tapes by their names. */
  others?: ReadonlyMap<string, ReadonlySet<string>>;
  /** Units and looks-ahead marks of entries by name; asked only for names that are entries. */
  entry: (name: string, at: Span) => EntryFacts | undefined;
  entryNames: readonly string[];
  /** Told which other tapes the formula reads. */
  noteTape?: (name: string) => void;
  /** Names of a window's values, where the formula is one over a window. */
  windowNames?: ReadonlySet<string>;
}

export interface EntryFacts {
  unit: Unit;
  looksAhead: boolean;
  /** Further values that the entry gives. */
  parts?: readonly Part[];
}
