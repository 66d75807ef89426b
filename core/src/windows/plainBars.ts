import { FoldedSum, RUN } from '../numeric/foldedSum.js';
import { byPieces } from '../numeric/pieces.js';
import type { Window } from './window.js';

/*
 * Windows of the last N bars over a column without gaps: the common case, in loops that the compiler can make plain.
 * The rows are cut into blocks of N. A window then is the end of one block and the beginning of the next, so each value
 * comes from a running result over the one and a running result over the other, and nothing is ever subtracted (van Herk
 * 1992): what has left a window has left no trace. Sums are folded run by run, so a long window is as exact as a short one.
 */

/** Deviations from one of a window's values may cancel by a factor N: beyond this the error of 64 u could pass 1e-9. */
const LONGEST = 131_072;

/**
 * The length of a window that goes by these loops; nothing where the window or the column asks for the general way.
 * @param least    fewest valid values that give a result: a window that never holds so many does not go by them
 * @param longest  length up to which the result is exact enough
 */
export function plainLength(window: Window, least: number, x: Float64Array, longest = LONGEST): number | undefined {
  if (window.kind !== 'bars' || window.placed !== 'behind' || window.skip !== 0 || window.bars < least)
    return undefined;
  return window.bars <= longest && isWithoutGaps(x) ? window.bars : undefined;
}

const isWithoutGaps = (x: Float64Array): boolean => byPieces(0, x.length, (from, to) => areFinite(x, from, to));

/** Four sums, none of which waits for another; each is NaN from its first missing or infinite value on. */
function areFinite(x: Float64Array, from: number, to: number): boolean {
  let [a, b, c, d] = [0, 0, 0, 0];
  let row = from;
  for (; row + 3 < to; row += 4) {
    a += x[row] * 0;
    b += x[row + 1] * 0;
    c += x[row + 2] * 0;
    d += x[row + 3] * 0;
  }
  for (; row < to; row++) a += x[row] * 0;
  return a + b + c + d === 0;
}

/** Sums over the last `bars` rows; with `divide` their means. The first rows have windows of fewer, `from` on. */
export function plainSum(x: Float64Array, bars: number, from: number, divide: boolean): Float64Array {
  const rows = x.length;
  const out = new Float64Array(rows);
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
  for (let block = 0; block < rows; block += bars) {
    const length = Math.min(bars, rows - block);
    begun.clear();
    ended.clear();
    for (let run = 0; run < length; run += RUN) {
      const to = Math.min(length, run + RUN);
      if (block === 0) endRun(x, run, to, length - 1, ended, next);
      else sumRun(x, block, run, to, length - 1, divide ? bars : 1, begun, ended, ends, next, out);
    }
    [ends, next] = [next, ends];
  }
  return out;
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

/** Two sums of a block's rows, in progress, and what they came to from each row of the block before to its end. */
class PairOfSums {
  readonly one = new FoldedSum();
  readonly two = new FoldedSum();
  readonly ends1: Float64Array;
  readonly ends2: Float64Array;

  constructor(length: number) {
    this.ends1 = new Float64Array(length + 1);
    this.ends2 = new Float64Array(length + 1);
  }

  clear(): void {
    this.one.clear();
    this.two.clear();
  }

  fold(one: number, two: number): void {
    this.one.fold(one);
    this.two.fold(two);
  }
}

/**
 * Variances over the last `bars` rows, or their roots, with `less` taken off the divisor. Deviations are summed from the
 * value where two blocks meet: it lies in every window of theirs, which bounds the cancellation of S2 - S1^2 / N to a
 * factor N, for values around 1e9 that differ by 1 and for spikes alike; equal values give exactly 0.
 */
export function plainVariance(x: Float64Array, bars: number, from: number, less: 0 | 1, root: boolean): Float64Array {
  const rows = x.length;
  const out = new Float64Array(rows);
  const head = Math.min(bars, rows);
  const sums = new PairOfSums(head);
  sums.clear();
  for (let run = 0; run < head; run += RUN) spreadHead(x, run, Math.min(head, run + RUN), from, less, root, sums, out);
  for (let block = bars; block <= rows; block += bars) {
    sums.clear();
    for (let run = block; run > block - bars; run -= RUN)
      spreadEnds(x, Math.max(block - bars, run - RUN), run, block, sums);
    // the window that is the whole block has its own last value for an origin
    const whole = Math.max(0, sums.two.value - sums.one.value ** 2 / bars) / (bars - less);
    out[block - 1] = root ? Math.sqrt(whole) : whole;
    sums.clear();
    const end = Math.min(rows, block + bars - 1);
    for (let run = block; run < end; run += RUN)
      spreadRun(x, run, Math.min(end, run + RUN), block, bars, less, root, sums, out);
  }
  return out;
}

/** The first rows, whose windows begin with the column. */
function spreadHead(
  x: Float64Array,
  first: number,
  end: number,
  from: number,
  less: number,
  root: boolean,
  sums: PairOfSums,
  out: Float64Array,
): void {
  const [before1, before2] = [sums.one.value, sums.two.value];
  let part1 = 0;
  let part2 = 0;
  for (let t = first; t < end; t++) {
    const d = x[t] - x[0];
    part1 += d;
    part2 += d * d;
    const sum = before1 + part1;
    const count = t + 1;
    const variance = Math.max(0, before2 + part2 - (sum * sum) / count) / (count - less);
    out[t] = count < from ? NaN : root ? Math.sqrt(variance) : variance;
  }
  sums.fold(part1, part2);
}

function spreadEnds(
  x: Float64Array,
  first: number,
  end: number,
  block: number,
  { one, two, ends1, ends2 }: PairOfSums,
): void {
  const [before1, before2] = [one.value, two.value];
  const origin = x[block - 1];
  const shift = block - ends1.length + 1;
  let part1 = 0;
  let part2 = 0;
  for (let t = end - 1; t >= first; t--) {
    const d = x[t] - origin;
    ends1[t - shift] = before1 + (part1 += d);
    ends2[t - shift] = before2 + (part2 += d * d);
  }
  one.fold(part1);
  two.fold(part2);
}

function spreadRun(
  x: Float64Array,
  first: number,
  end: number,
  block: number,
  bars: number,
  less: number,
  root: boolean,
  { one, two, ends1, ends2 }: PairOfSums,
  out: Float64Array,
): void {
  const [before1, before2] = [one.value, two.value];
  const origin = x[block - 1];
  const divisor = bars - less;
  let part1 = 0;
  let part2 = 0;
  for (let t = first; t < end; t++) {
    const d = x[t] - origin;
    part1 += d;
    part2 += d * d;
    const i = t - block + 1;
    const sum = ends1[i] + (before1 + part1);
    const variance = Math.max(0, ends2[i] + (before2 + part2) - (sum * sum) / bars) / divisor;
    out[t] = root ? Math.sqrt(variance) : variance;
  }
  one.fold(part1);
  two.fold(part2);
}

/**
 * Slopes of x on the row over the last `bars` rows, `bars` of them at least two; NaN where there are fewer. Positions count
 * from the row where the blocks meet, deviations from the value there.
 */
export function plainSlope(x: Float64Array, bars: number): Float64Array {
  const rows = x.length;
  const out = new Float64Array(rows).fill(NaN, 0, Math.min(rows, bars - 1));
  const sums = new PairOfSums(Math.min(bars, rows));
  const squares = (bars * (bars * bars - 1)) / 12;
  for (let block = bars; block <= rows; block += bars) {
    sums.clear();
    for (let run = block; run > block - bars; run -= RUN)
      slopeEnds(x, Math.max(block - bars, run - RUN), run, block, sums);
    out[block - 1] = (sums.two.value + ((bars - 1) / 2) * sums.one.value) / squares;
    sums.clear();
    const end = Math.min(rows, block + bars - 1);
    for (let run = block; run < end; run += RUN) slopeRun(x, run, Math.min(end, run + RUN), block, bars, sums, out);
  }
  return out;
}

function slopeEnds(
  x: Float64Array,
  first: number,
  end: number,
  block: number,
  { one, two, ends1, ends2 }: PairOfSums,
): void {
  const [before1, before2] = [one.value, two.value];
  const origin = x[block - 1];
  const shift = block - ends1.length + 1;
  let part1 = 0;
  let part2 = 0;
  for (let t = end - 1; t >= first; t--) {
    const d = x[t] - origin;
    ends1[t - shift] = before1 + (part1 += d);
    ends2[t - shift] = before2 + (part2 += (t + 1 - block) * d);
  }
  one.fold(part1);
  two.fold(part2);
}

function slopeRun(
  x: Float64Array,
  first: number,
  end: number,
  block: number,
  bars: number,
  { one, two, ends1, ends2 }: PairOfSums,
  out: Float64Array,
): void {
  const [before1, before2] = [one.value, two.value];
  const origin = x[block - 1];
  const middle = (bars - 1) / 2;
  const squares = (bars * (bars * bars - 1)) / 12;
  let part1 = 0;
  let part2 = 0;
  for (let t = first; t < end; t++) {
    const i = t - block + 1;
    const d = x[t] - origin;
    part1 += d;
    part2 += i * d;
    out[t] = (ends2[i] + (before2 + part2) - (i - middle) * (ends1[i] + (before1 + part1))) / squares;
  }
  one.fold(part1);
  two.fold(part2);
}

/** Least (`sign` -1) or greatest (`sign` 1) value of the last `bars` rows. */
export function plainExtreme(x: Float64Array, bars: number, from: number, sign: 1 | -1): Float64Array {
  const rows = x.length;
  const out = new Float64Array(rows);
  const ends = new Float64Array(Math.min(bars, rows) + 1).fill(-Infinity);
  let most = -Infinity;
  for (let t = 0; t < Math.min(bars, rows); t++) {
    const value = sign * x[t];
    if (value > most) most = value;
    out[t] = t + 1 < from ? NaN : sign * most;
  }
  for (let block = bars; block < rows; block += bars) {
    most = -Infinity;
    for (let i = bars - 1; i > 0; i--) {
      const value = sign * x[block - bars + i];
      if (value > most) most = value;
      ends[i] = most;
    }
    most = -Infinity;
    const last = Math.min(bars, rows - block);
    for (let i = 0; i < last; i++) {
      const value = sign * x[block + i];
      if (value > most) most = value;
      out[block + i] = sign * (ends[i + 1] > most ? ends[i + 1] : most);
    }
  }
  return out;
}
