import type { TextColumns } from '../records/ticks.js';

/** Candle bars as columns; the definitions page, section 3, says what each field means. Missing is NaN. */
export interface Bars {
  /** Start of the bar, whole microseconds since the epoch. */
  time: Float64Array;
  end: Float64Array;
  open: Float64Array;
  high: Float64Array;
  low: Float64Array;
  close: Float64Array;
  volume: Float64Array;
  value: Float64Array;
  vwap: Float64Array;
  trades: Float64Array;
  /** 1, or 0 for a first or last bar that the tape covers in part. */
  complete: Uint8Array;
  /** What the last record of each bar carries: words, and further numbers. */
  texts?: TextColumns;
  numbers?: Record<string, Float64Array>;
}

/** Bars with what their making tells beside them. */
export interface BuiltBars extends Bars {
  /** Records of each bar: the first, and the one after the last, by their index among those that the rule takes. */
  firstRecord: Float64Array;
  endRecord: Float64Array;
  /** How many records lay outside the session and so in no bar. */
  leftOut: number;
}

/** The columns of `Bars` that hold doubles, in the order of tables and files. */
export const BAR_FIELDS = [
  'time',
  'end',
  'open',
  'high',
  'low',
  'close',
  'volume',
  'value',
  'vwap',
  'trades',
] as const satisfies readonly (keyof Bars)[];

/** Columns of bars that formulas may use, `end` and `time` being those of the rows themselves. */
export const BAR_COLUMNS: ReadonlySet<string> = new Set(
  BAR_FIELDS.filter((field) => field !== 'time' && field !== 'end'),
);
