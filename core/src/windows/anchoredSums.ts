import { lostBy } from '../numeric/foldedSum.js';
import { BLOCK_ROWS, boundsOf, type RowTimes, type Window } from './window.js';

/**
 * What a measure sums over its window: terms of each row, taken about an origin. The origin is a row of the window that
 * counts, which is what keeps differences of large sums harmless, for values around 1e9 and for spikes alike.
 */
export interface Terms {
  /** How many. */
  count: number;
  /** Whether the row counts. */
  isValid: (row: number) => boolean;
  /** Takes a row for the origin of the terms to come. */
  setOrigin: (row: number) => void;
  /** Writes the terms of a row. */
  write: (row: number, terms: Float64Array) => void;
}

/** What a window came to: its valid rows, and the sum of each term over them. */
type Emit = (row: number, valid: number, sums: Float64Array, first: number, end: number) => void;

/**
 * Slides a window over rows and gives the sums of its terms at each.
 *
 * The window is held in two parts. The front, up to the origin's row, has sums from each of its rows to the origin, worked
 * out once from the back to the front; the back has one growing sum. When the front is used up, the whole window becomes
 * the front and its last valid row the origin. So nothing is ever subtracted, and what has left has left no trace.
 * Sums are compensated. O(n) time whatever the window, scratch of one window.
 * @see van Herk 1992; Ogita, Rump and Oishi 2005
 */
export function slideSums(rows: number, window: Window, times: RowTimes | undefined, terms: Terms, emit: Emit): void {
  const { count, isValid, setOrigin, write } = terms;
  const bounds = boundsOf(window, rows, times);
  const firsts = new Int32Array(BLOCK_ROWS);
  const ends = new Int32Array(BLOCK_ROWS);
  const one = new Float64Array(count);
  const sums = new Float64Array(count);
  const errors = new Float64Array(count);
  const both = new Float64Array(count);
  let frontSums = new Float64Array(64 * count);
  let frontCounts = new Int32Array(64);
  let base = 0; // the row that the front's first sums stand for
  let middle = 0; // the row after the origin, while there is one
  let reached = 0; // rows before it are in one of the parts, or do not count
  let valid = 0;

  const clear = () => {
    sums.fill(0);
    errors.fill(0);
    valid = 0;
  };
  const add = (row: number) => {
    write(row, one);
    for (let k = 0; k < count; k++) {
      const next = sums[k] + one[k];
      errors[k] += lostBy(sums[k], one[k], next);
      sums[k] = next;
    }
    valid++;
  };
  const makeFront = (first: number, origin: number) => {
    const length = origin + 1 - first;
    if (length > frontCounts.length) {
      frontSums = new Float64Array(2 * length * count);
      frontCounts = new Int32Array(2 * length);
    }
    base = first;
    middle = origin + 1;
    setOrigin(origin);
    clear();
    for (let i = length - 1; i >= 0; i--) {
      if (isValid(first + i)) add(first + i);
      for (let k = 0; k < count; k++) frontSums[i * count + k] = sums[k] + errors[k];
      frontCounts[i] = valid;
    }
    clear();
  };

  const begin = times?.slide?.from ?? 0;
  for (let block = 0; block < rows; block += BLOCK_ROWS) {
    const blockEnd = Math.min(rows, block + BLOCK_ROWS);
    bounds.fill(block, blockEnd, firsts, ends);
    for (let t = Math.max(block, begin); t < blockEnd; t++) {
      const first = firsts[t - block];
      const end = ends[t - block];
      if (first >= middle) {
        times?.slide?.restart(t, first);
        // rows before `reached` that were in no part do not count, unless they were the back of a front that is used up
        let origin = end - 1;
        const least = valid > 0 ? first : Math.max(first, reached);
        while (origin >= least && !isValid(origin)) origin--;
        reached = Math.max(reached, end);
        if (origin < least) {
          valid = 0;
          emit(t, 0, both.fill(0), first, end);
          continue;
        }
        makeFront(first, origin);
      }
      for (; reached < end; reached++) if (isValid(reached)) add(reached);
      const at = first - base;
      for (let k = 0; k < count; k++) both[k] = frontSums[at * count + k] + (sums[k] + errors[k]);
      emit(t, frontCounts[at] + valid, both, first, end);
    }
  }
}

/** Whether a value counts: missing ones do not, nor do infinite ones. */
export const isFinite = (x: number): boolean => x - x === 0;
