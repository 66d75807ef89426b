import { FoldedSum, RUN } from '../numeric/foldedSum.js';
import { isFinite } from './anchoredSums.js';

/**
 * Sums over the last `bars` rows; with `divide` their means. The first rows have windows of fewer, `from` on.
 * @returns  whether all is filled: false where x has a gap
 */
export function blockSum(x: Float64Array, bars: number, from: number, divide: boolean, out: Float64Array): boolean {
  const rows = x.length;
  const head = Math.min(bars, rows);
  const begun = new FoldedSum();
  const ended = new FoldedSum();
  let ends = new Float64Array(head + 1);
  let next = new Float64Array(head + 1);
  begun.clear();
  for (let run = 0; run < head; run += RUN) {
    let part = 0;
    for (let t = run; t < Math.min(head, run + RUN); t++) {
      part += x[t];
      const sum = begun.value + part;
      out[t] = t + 1 < from ? NaN : divide ? sum / (t + 1) : sum;
    }
    begun.fold(part);
  }
  if (!isFinite(begun.value)) return false;
  if (bars <= RUN) {
    // in stretches: a loop that is entered once and for long is not made as quick as one that is entered often
    const stretch = STRETCH_BLOCKS * bars;
    for (let first = bars; first < rows; first += stretch)
      if (!sumShort(x, bars, divide ? bars : 1, first, Math.min(rows, first + stretch), ends, out)) return false;
    return true;
  }
  for (let block = 0; block < rows; block += bars) {
    const length = Math.min(bars, rows - block);
    begun.clear();
    ended.clear();
    for (let run = 0; run < length; run += RUN) {
      const to = Math.min(length, run + RUN);
      if (block === 0) endRun(x, run, to, length - 1, ended, next);
      else sumRun(x, block, run, to, length - 1, divide ? bars : 1, begun, ended, ends, next, out);
    }
    if (!isFinite(begun.value)) return false;
    [ends, next] = [next, ends];
  }
  return true;
}

const STRETCH_BLOCKS = 200;

/**
 * Windows no longer than a run, whose sums need no folding: those that end in rows [first, end), which begins with a block.
 * @returns  whether there is no gap
 */
function sumShort(
  x: Float64Array,
  bars: number,
  divisor: number,
  first: number,
  end: number,
  ends: Float64Array,
  out: Float64Array,
): boolean {
  let gaps = 0; // NaN from the first missing value on
  ends[bars] = 0;
  for (let block = first; block < end; block += bars) {
    let ended = 0;
    for (let i = bars - 1, t = block - 1; i > 0; i--, t--) ends[i] = ended += x[t];
    let begun = 0;
    const blockEnd = Math.min(end, block + bars);
    for (let t = block, i = 1; t < blockEnd; t++, i++) {
      begun += x[t];
      out[t] = (ends[i] + begun) / divisor;
    }
    gaps += begun * 0;
  }
  return gaps === 0;
}

/** Sums of a block's last rows, from its end on. */
function endRun(x: Float64Array, from: number, to: number, last: number, ended: FoldedSum, next: Float64Array): void {
  const before = ended.value;
  let part = 0;
  for (let i = from; i < to; i++) next[last - i] = before + (part += x[last - i]);
  ended.fold(part);
}

/**
 * The windows that end in a run of a block: the end of the block before, of which `ends` holds the sums, and its own
 * beginning. Its own ends go into `next` on the way, since the two sums do not wait for each other.
 */
function sumRun(
  x: Float64Array,
  block: number,
  from: number,
  to: number,
  last: number,
  divisor: number,
  begun: FoldedSum,
  ended: FoldedSum,
  ends: Float64Array,
  next: Float64Array,
  out: Float64Array,
): void {
  const [begunBefore, endedBefore] = [begun.value, ended.value];
  let begunPart = 0;
  let endedPart = 0;
  for (let i = from, j = last - from; i < to; i++, j--) {
    begunPart += x[block + i];
    endedPart += x[block + j];
    out[block + i] = (ends[i + 1] + (begunBefore + begunPart)) / divisor;
    next[j] = endedBefore + endedPart;
  }
  begun.fold(begunPart);
  ended.fold(endedPart);
}
