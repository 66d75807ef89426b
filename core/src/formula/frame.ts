import type { KnownNames } from './plan.js';
import type { BarInterval } from '../windows/shortStart.js';
import type { TextColumns } from '../records/ticks.js';
import type { Calendar } from '../time/calendar.js';

/** Named columns over common rows: what formulas are evaluated on. */
export interface Frame {
  /** Instants of the rows, not falling. */
  time: Float64Array;
  columns: Record<string, Float64Array>;
  /** What `each` may group by beside the columns. */
  texts?: TextColumns;
  /** The words of the text columns, by their index. */
  words?: ReadonlyMap<string, readonly string[]>;
  /** When each bar ends; for formulas on larger bars. */
  end?: Float64Array;
  /** The name of the tape, by which its formulas may call its columns. */
  tape?: string;
  /** The bar rule as written; for what a volatility is carried over by. */
  rule?: string;
  /** How far apart the bars follow each other, where they are of equal length; that of the rule if not given. */
  interval?: BarInterval;
  /** For windows by session, day, week, month and year; UTC days without one. */
  calendar?: Calendar;
  /** Columns by further names, such as what a file calls its values. */
  aliases?: ReadonlyMap<string, string>;
  /** Frames of other tapes by name, for `NAME.column`. */
  others?: Record<string, Frame>;
}

/** The names that formulas on a frame may use. */
export const namesOf = ({ columns, texts = {}, words, others = {}, aliases, calendar, tape }: Frame): KnownNames => ({
  columns: Object.keys(columns),
  texts: Object.keys(texts),
  words,
  undated: calendar?.undated,
  self: tape,
  others: new Map(Object.entries(others).map(([name, other]) => [name, new Set(Object.keys(other.columns))])),
  aliases,
  otherAliases: new Map(
    Object.entries(others).flatMap(([name, other]) => (other.aliases ? [[name, other.aliases]] : [])),
  ),
});

/** Rows [from, to) of a frame, without copying any. */
export function frameRows(frame: Frame, from: number, to: number): Frame {
  const rows = (columns: Record<string, Float64Array>) =>
    Object.fromEntries(Object.entries(columns).map(([name, column]) => [name, column.subarray(from, to)]));
  return {
    ...frame,
    time: frame.time.subarray(from, to),
    columns: rows(frame.columns),
    ...(frame.texts && { texts: rows(frame.texts) }),
    ...(frame.end && { end: frame.end.subarray(from, to) }),
  };
}

/** What an entry gives. A part or a member of a fan is a column of its own: `b.upper`, `fan[50]`. */
export interface Column {
  name: string;
  /** The part's name; empty for the entry's own value. */
  part: string;
  values: Float64Array;
  /** Whether a value can depend on rows later than its own. */
  looksAhead: boolean;
  /** Bars that its values stand later than the rows they are given on; above 0 for projections. */
  ahead: number;
  /** First row that has a value; the number of rows where none has. */
  firstValid: number;
}
