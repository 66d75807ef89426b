import { isFinite } from './anchoredSums.js';
import type { RowTimes, Window } from './window.js';

/*
 * Windows of the last N bars over a column without gaps: the common case, in loops that the compiler can make plain.
 * The rows are cut into blocks of N. A window then is the end of one block and the beginning of the next, so each value
 * comes from a running result over the one and a running result over the other, and nothing is ever subtracted (van Herk
 * 1992): what has left a window has left no trace. Sums are folded run by run, so a long window is as exact as a short one.
 */

/** Deviations from one of a window's values may cancel by a factor N: beyond this the error of 64 u could pass 1e-9. */
const LONGEST = 131_072;

/** A loop over the windows of N rows. Gives false, and has not filled `out`, where it has met a gap. */
type PlainLoop = (x: Float64Array, bars: number, out: Float64Array) => boolean;

/**
 * Fills `out` by a plain loop if the window is one of last bars and the column has no gap but before its first value, as
 * returns have; gives false where the general way has to be taken. The loop finds gaps itself, so that no pass is spent on them.
 * @param least    fewest valid values that give a result: a window that never holds so many does not go by loops
 * @param longest  length up to which the result is exact enough
 */
export function byBlockLoop(
  x: Float64Array,
  window: Window,
  least: number,
  out: Float64Array,
  times: RowTimes | undefined,
  loop: PlainLoop,
  longest = LONGEST,
): boolean {
  // rows that follow others have to be taken as those were
  if (times?.slide && times.slide.from > 0) return false;
  if (window.kind !== 'bars' || window.placed !== 'behind' || window.skip !== 0) return false;
  if (least < 1 || window.bars < least || window.bars > longest) return false;
  let start = 0;
  while (start < x.length && !isFinite(x[start])) start++;
  out.fill(NaN, 0, start);
  return loop(x.subarray(start), window.bars, out.subarray(start));
}
