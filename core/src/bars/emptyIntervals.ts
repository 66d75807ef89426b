import { BAR_FIELDS, type BuiltBars } from './bars.js';
import { GrowingColumn } from '../numeric/growingColumn.js';
import type { TimeIntervals } from './timeIntervals.js';

const PRICES = ['open', 'high', 'low', 'close'] as const;

/** Columns that grow, one for each of some names. */
const growing = (names: readonly string[], rows: number): Record<string, GrowingColumn> =>
  Object.fromEntries(names.map((name) => [name, new GrowingColumn(rows)]));

/**
 * Puts a bar into every interval between the first bar and the last that has none.
 * @param mode  `carry`: all four prices are the previous close, and its texts stay; `blank`: they are missing. Volume, value and trades are 0.
 */
export function fillEmpty(bars: BuiltBars, intervals: TimeIntervals, mode: 'carry' | 'blank'): BuiltBars {
  const rows = bars.time.length;
  if (rows === 0) return bars;
  const fields = [...BAR_FIELDS, 'firstRecord', 'endRecord'] as const;
  const out = growing(fields, rows) as Record<(typeof fields)[number], GrowingColumn>;
  const complete: number[] = [];
  const texts = Object.entries(bars.texts ?? {});
  const outTexts = growing(Object.keys(bars.texts ?? {}), rows);
  intervals.seek(bars.time[0]);
  for (let row = 0; row < rows; row++) {
    for (const field of fields) out[field].push(bars[field][row]);
    for (const [name, column] of texts) outTexts[name].push(column[row]);
    complete.push(bars.complete[row]);
    if (row + 1 === rows) break;
    const price = mode === 'carry' ? bars.close[row] : NaN;
    for (intervals.next(); intervals.start < bars.time[row + 1]; intervals.next()) {
      out.time.push(intervals.start);
      out.end.push(intervals.end);
      for (const field of PRICES) out[field].push(price);
      for (const [name, column] of texts) outTexts[name].push(mode === 'carry' ? column[row] : NaN);
      out.volume.push(0);
      out.value.push(0);
      out.vwap.push(NaN);
      out.trades.push(0);
      out.firstRecord.push(bars.endRecord[row]);
      out.endRecord.push(bars.endRecord[row]);
      complete.push(1);
    }
  }
  const arrays = Object.fromEntries(fields.map((field) => [field, out[field].toArray()])) as Record<
    (typeof fields)[number],
    Float64Array
  >;
  return {
    ...arrays,
    complete: Uint8Array.from(complete),
    leftOut: bars.leftOut,
    ...(bars.texts && { texts: Object.fromEntries(texts.map(([name]) => [name, outTexts[name].toArray()])) }),
  };
}
