import { BAR_FIELDS, type BuiltBars } from './bars.js';
import type { BuildCourse } from './buildCourse.js';
import type { TimeIntervals } from './timeIntervals.js';

const COLUMNS = [...BAR_FIELDS, 'firstRecord', 'endRecord'] as const;
const PRICES = ['open', 'high', 'low', 'close'] as const;

/** Intervals that are counted between one look at the limit and the next. */
const COUNTED_AT_ONCE = 4096;

/**
 * Puts a bar into every interval between the first bar and the last that has none.
 * @param mode  `carry`: all four prices are the previous close, and its texts stay; `blank`: they are missing. Volume, value and trades are 0.
 * @throws {TooManyBarsError} before any is made, where there would be more than the course allows
 */
export function fillEmpty(
  bars: BuiltBars,
  intervals: TimeIntervals,
  mode: 'carry' | 'blank',
  course: BuildCourse,
): BuiltBars {
  const rows = bars.time.length;
  if (rows === 0) return bars;
  const count = countIntervals(bars.time, intervals, course);
  const out = Object.fromEntries(COLUMNS.map((name) => [name, new Float64Array(count)])) as Record<
    (typeof COLUMNS)[number],
    Float64Array
  >;
  const complete = new Uint8Array(count).fill(1);
  const texts = Object.entries(bars.texts ?? {}).map(
    ([name, column]) => [name, column, new Float64Array(count)] as const,
  );
  let at = 0;
  intervals.seek(bars.time[0]);
  for (let row = 0; row < rows; row++) {
    for (const name of COLUMNS) out[name][at] = bars[name][row];
    for (const [, column, filled] of texts) filled[at] = column[row];
    complete[at++] = bars.complete[row];
    if (row + 1 === rows) break;
    const price = mode === 'carry' ? bars.close[row] : NaN;
    for (intervals.next(); intervals.start < bars.time[row + 1]; intervals.next(), at++) {
      out.time[at] = intervals.start;
      out.end[at] = intervals.end;
      for (const name of PRICES) out[name][at] = price;
      for (const [, column, filled] of texts) filled[at] = mode === 'carry' ? column[row] : NaN;
      out.vwap[at] = NaN;
      out.firstRecord[at] = out.endRecord[at] = bars.endRecord[row];
      if (at % COUNTED_AT_ONCE === 0) course.made(at);
    }
  }
  return {
    ...out,
    complete,
    leftOut: bars.leftOut,
    ...(bars.texts && { texts: Object.fromEntries(texts.map(([name, , filled]) => [name, filled])) }),
  };
}

/** The intervals from the first bar to the last, those included. */
function countIntervals(time: Float64Array, intervals: TimeIntervals, course: BuildCourse): number {
  const last = time[time.length - 1];
  let count = 1;
  for (intervals.seek(time[0]); intervals.start < last; intervals.next())
    if (++count % COUNTED_AT_ONCE === 0) course.made(count);
  course.made(count);
  return count;
}
