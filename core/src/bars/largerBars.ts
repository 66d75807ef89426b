import { ArgumentError } from '../arguments.js';
import type { TextColumns } from '../records/ticks.js';
import { firstRowFrom } from '../numeric/search.js';
import type { Calendar } from '../time/calendar.js';
import type { BarRule } from './barKind.js';
import { printBarRule } from './barRule.js';
import { BAR_COLUMNS, BAR_FIELDS, type Bars } from './bars.js';
import { buildBars } from './buildBars.js';

/** Columns of bars as they lie in a frame; `end` beside them. */
type FrameColumns = Record<string, Float64Array>;

/**
 * Larger bars of the bars of a frame.
 * @throws {ArgumentError} where columns are missing, or the bars cannot be put together to ones of the rule
 */
export function largerBars(
  time: Float64Array,
  columns: FrameColumns,
  rule: BarRule,
  calendar: Calendar,
  texts?: TextColumns,
): Bars {
  const missing = BAR_FIELDS.find((name) => name !== 'time' && name !== 'vwap' && !columns[name]);
  if (missing) throw new ArgumentError('on', `bars with a column ${missing}`, printBarRule(rule));
  const { end, open, high, low, close, volume, value, trades } = columns;
  const vwap = columns.vwap ?? new Float64Array(time.length).fill(NaN);
  const complete = new Uint8Array(time.length).fill(1);
  const own = Object.entries(columns).filter(([name]) => name !== 'end' && !BAR_COLUMNS.has(name));
  const numbers = own.length > 0 ? Object.fromEntries(own) : undefined;
  return buildBars(
    { time, end, open, high, low, close, volume, value, vwap, trades, complete, texts, numbers },
    rule,
    calendar,
  );
}

/**
 * For each smaller bar the row of the larger bar whose value it may know: the last one that was over when the smaller bar
 * ended, or with `forming` the one that the smaller bar lies in. -1 before the first.
 */
export function rowsOfLarger(
  small: Pick<Bars, 'time' | 'end'>,
  large: Pick<Bars, 'time' | 'end'>,
  forming: boolean,
): Int32Array {
  const rows = new Int32Array(small.time.length);
  let next = 0;
  for (let t = 0; t < rows.length; t++) {
    if (forming) while (next < large.time.length && large.time[next] <= small.time[t]) next++;
    else while (next < large.end.length && large.end[next] <= small.end[t]) next++;
    rows[t] = next - 1;
  }
  return rows;
}

/** Another tape's column on the rows of ours: the value at the same bar time, missing where there is none. */
export function joinedOnTime(time: Float64Array, otherTime: Float64Array, column: Float64Array): Float64Array {
  const out = new Float64Array(time.length).fill(NaN);
  let row = time.length > 0 ? firstRowFrom(otherTime, time[0]) : 0;
  for (let t = 0; t < time.length; t++) {
    while (row < otherTime.length && otherTime[row] < time[t]) row++;
    if (otherTime[row] === time[t]) out[t] = column[row];
  }
  return out;
}
