import { isFinite } from './anchoredSums.js';
import { byBlockLoop } from './blockBars.js';
import { blockExtreme } from './blockExtreme.js';
import { blockQuantile } from './blockQuantile.js';
import { SortedValues } from './sortedValues.js';
import { BLOCK_ROWS, boundsOf, type RowTimes, type Window } from './window.js';

/** Tells each row's window, [first, end), in order. */
function eachWindow(
  rows: number,
  window: Window,
  times: RowTimes | undefined,
  visit: (row: number, first: number, end: number) => void,
): void {
  const bounds = boundsOf(window, rows, times);
  const firsts = new Int32Array(BLOCK_ROWS);
  const ends = new Int32Array(BLOCK_ROWS);
  const slide = times?.slide;
  for (let block = 0; block < rows; block += BLOCK_ROWS) {
    const blockEnd = Math.min(rows, block + BLOCK_ROWS);
    bounds.fill(block, blockEnd, firsts, ends);
    for (let t = Math.max(block, slide?.from ?? 0); t < blockEnd; t++) visit(t, firsts[t - block], ends[t - block]);
    // nothing is rounded here, so that any row will do
    slide?.restart(blockEnd - 1, firsts[blockEnd - 1 - block]);
  }
}

/**
 * Quantile of a column over a window, linear between the two order statistics about p(m-1); the median with p = 0.5.
 * @param p  0 to 1
 * @returns  n values in the unit of x, NaN for fewer than `from` valid values
 * @remarks  Full windows by bars go by sorted blocks, a few steps a row; others are kept in order, a search and a move a row.
 */
export function rollingQuantile(
  x: Float64Array,
  p: number,
  window: Window,
  from: number,
  times?: RowTimes,
): Float64Array {
  const least = Math.max(1, from);
  const out = new Float64Array(x.length);
  const isFull = window.kind === 'bars' && least === window.bars;
  const loop = (x: Float64Array, bars: number, out: Float64Array) => blockQuantile(x, bars, p, out, times?.progress);
  if (isFull && byBlockLoop(x, window, least, out, times, loop)) return out;
  return ordered(x, window, least, times, (sorted) => {
    const place = p * (sorted.size - 1);
    const lower = Math.floor(place);
    const low = sorted.at(lower);
    return place === lower ? low : low + (place - lower) * (sorted.at(lower + 1) - low);
  });
}

/** Share of the window's values below the row's own, ties counted half; NaN where the row's own is missing. */
export function rollingRank(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  return ordered(x, window, Math.max(2, from), times, (sorted, own) =>
    isFinite(own) ? (sorted.below(own) + 0.5 * (sorted.equal(own) - 1)) / (sorted.size - 1) : NaN,
  );
}

function ordered(
  x: Float64Array,
  window: Window,
  least: number,
  times: RowTimes | undefined,
  measure: (sorted: SortedValues, own: number) => number,
): Float64Array {
  const out = new Float64Array(x.length);
  const sorted = new SortedValues();
  let low = 0;
  let high = 0;
  eachWindow(x.length, window, times, (t, first, end) => {
    const oneForOne = end === high + 1 && first === low + 1 && low < high && isFinite(x[low]) && isFinite(x[high]);
    if (oneForOne) {
      sorted.replace(x[low++], x[high++]);
    } else {
      for (; low < Math.min(first, high); low++) if (isFinite(x[low])) sorted.remove(x[low]);
      if (low < first) low = high = first; // the windows do not overlap
      for (; high < end; high++) if (isFinite(x[high])) sorted.insert(x[high]);
    }
    out[t] = sorted.size < least ? NaN : measure(sorted, x[t]);
  });
  return out;
}

/** Least value of a window, in the unit of x. */
export const rollingMin = (x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array =>
  extreme(x, window, from, -1, times);

/** Greatest value of a window, in the unit of x. */
export const rollingMax = (x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array =>
  extreme(x, window, from, 1, times);

/** By a queue of the rows that may still be the extreme: each enters and leaves once (Lemire 2006). */
function extreme(x: Float64Array, window: Window, from: number, sign: 1 | -1, times?: RowTimes): Float64Array {
  const out = new Float64Array(x.length);
  const loop = (x: Float64Array, bars: number, out: Float64Array) => blockExtreme(x, bars, from, sign, out);
  // of any length: an extreme is one of the values, and nothing is rounded
  if (byBlockLoop(x, window, from, out, times, loop, Infinity)) return out;
  const queue = new Int32Array(x.length);
  let head = 0;
  let tail = 0;
  const valid = new ValidRows(x);
  eachWindow(x.length, window, times, (t, first, end) => {
    const reached = valid.end;
    valid.moveTo(first, end);
    for (let row = Math.max(reached, first); row < end; row++) {
      if (!isFinite(x[row])) continue;
      while (tail > head && sign * x[queue[tail - 1]] <= sign * x[row]) tail--;
      queue[tail++] = row;
    }
    while (head < tail && queue[head] < first) head++;
    out[t] = valid.count < Math.max(1, from) ? NaN : x[queue[head]];
  });
  return out;
}

/** Number of valid values of a window; never NaN unless more are asked for by `from`. */
export function rollingCount(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  const out = new Float64Array(x.length);
  const valid = new ValidRows(x);
  eachWindow(x.length, window, times, (t, first, end) => {
    valid.moveTo(first, end);
    out[t] = valid.count < from ? NaN : valid.count;
  });
  return out;
}

/** First valid value of a window in time, in the unit of x. */
export function rollingFirst(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  const out = new Float64Array(x.length);
  const valid = new ValidRows(x);
  let row = 0;
  eachWindow(x.length, window, times, (t, first, end) => {
    valid.moveTo(first, end);
    row = Math.max(row, first);
    while (row < end && !isFinite(x[row])) row++;
    out[t] = valid.count < Math.max(1, from) ? NaN : x[row];
  });
  return out;
}

/** Last valid value of a window in time, in the unit of x. */
export function rollingLast(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  const out = new Float64Array(x.length);
  const valid = new ValidRows(x);
  let last = -1;
  let seen = 0;
  eachWindow(x.length, window, times, (t, first, end) => {
    valid.moveTo(first, end);
    for (; seen < end; seen++) if (isFinite(x[seen])) last = seen;
    out[t] = valid.count < Math.max(1, from) ? NaN : x[last];
  });
  return out;
}

/** Counts the valid rows of a window that only moves on. */
class ValidRows {
  count = 0;
  end = 0;
  private first = 0;

  constructor(private readonly x: Float64Array) {}

  moveTo(first: number, end: number): void {
    for (; this.first < Math.min(first, this.end); this.first++) if (isFinite(this.x[this.first])) this.count--;
    if (this.first < first) this.first = this.end = Math.max(this.first, first);
    for (; this.end < end; this.end++) if (isFinite(this.x[this.end])) this.count++;
  }
}
