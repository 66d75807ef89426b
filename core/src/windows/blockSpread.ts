import { asFraction } from '../numeric/wholes.js';
import { FoldedSum, RUN } from '../numeric/foldedSum.js';
import { isFinite } from './anchoredSums.js';

/** Two sums of a block's rows, in progress. */
class PairOfSums {
  readonly one = new FoldedSum();
  readonly two = new FoldedSum();

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
export function blockVariance(
  x: Float64Array,
  bars: number,
  from: number,
  less: 0 | 1,
  root: boolean,
  out: Float64Array,
): boolean {
  const rows = x.length;
  const head = Math.min(bars, rows);
  const sums = new PairOfSums();
  const ends1 = new Float64Array(head + 1);
  const ends2 = new Float64Array(head + 1);
  sums.clear();
  for (let run = 0; run < head; run += RUN) spreadHead(x, run, Math.min(head, run + RUN), from, less, root, sums, out);
  if (!isFinite(sums.one.value)) return false;
  for (let block = bars; block <= rows; block += bars) {
    sums.clear();
    for (let run = block; run > block - bars; run -= RUN)
      spreadEnds(x, Math.max(block - bars, run - RUN), run, block, sums, ends1, ends2);
    if (!isFinite(sums.one.value)) return false;
    // the window that is the whole block has its own last value for an origin
    const whole = Math.max(0, sums.two.value - sums.one.value ** 2 / bars) / (bars - less);
    out[block - 1] = root ? Math.sqrt(whole) : whole;
    sums.clear();
    const end = Math.min(rows, block + bars - 1);
    for (let run = block; run < end; run += RUN)
      spreadRun(x, run, Math.min(end, run + RUN), block, bars, less, root, sums, ends1, ends2, out);
  }
  return isFinite(sums.one.value);
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

/** What the sums come to from each row of a block to its end. */
function spreadEnds(
  x: Float64Array,
  first: number,
  end: number,
  block: number,
  { one, two }: PairOfSums,
  ends1: Float64Array,
  ends2: Float64Array,
): void {
  const [before1, before2] = [one.value, two.value];
  const origin = x[block - 1];
  const shift = block - ends1.length + 1;
  let part1 = 0;
  let part2 = 0;
  for (let t = end - 1, i = t - shift; t >= first; t--, i--) {
    const d = x[t] - origin;
    ends1[i] = before1 + (part1 += d);
    ends2[i] = before2 + (part2 += d * d);
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
  { one, two }: PairOfSums,
  ends1: Float64Array,
  ends2: Float64Array,
  out: Float64Array,
): void {
  const [before1, before2] = [one.value, two.value];
  const origin = x[block - 1];
  // divisions would take a good part of the time of a row
  const perBar = 1 / bars;
  const share = 1 / (bars - less);
  let part1 = 0;
  let part2 = 0;
  for (let t = first, i = first - block + 1; t < end; t++, i++) {
    const d = x[t] - origin;
    part1 += d;
    part2 += d * d;
    const sum = ends1[i] + (before1 + part1);
    const squares = ends2[i] + (before2 + part2) - sum * sum * perBar;
    const variance = squares > 0 ? squares * share : 0;
    out[t] = root ? Math.sqrt(variance) : variance;
  }
  one.fold(part1);
  two.fold(part2);
}

/**
 * Slopes of x on the row over the last `bars` rows, `bars` of them at least two; NaN where there are fewer. Positions count
 * from the row where the blocks meet, deviations from the value there.
 */
export function blockSlope(x: Float64Array, bars: number, out: Float64Array): boolean {
  const rows = x.length;
  out.fill(NaN, 0, Math.min(rows, bars - 1));
  const sums = new PairOfSums();
  const ends = new Float64Array(Math.min(bars, rows) + 1);
  const squares = (bars * (bars * bars - 1)) / 12;
  sums.clear();
  for (let block = bars; block <= rows; block += bars) {
    sums.clear();
    for (let run = block; run > block - bars; run -= RUN)
      slopeEnds(x, Math.max(block - bars, run - RUN), run, block, sums, ends);
    if (!isFinite(sums.one.value)) return false;
    out[block - 1] = (sums.two.value + ((bars - 1) / 2) * sums.one.value) / squares;
    sums.clear();
    const end = Math.min(rows, block + bars - 1);
    for (let run = block; run < end; run += RUN)
      slopeRun(x, run, Math.min(end, run + RUN), block, bars, sums, ends, out);
  }
  return isFinite(sums.one.value);
}

/** The share in the slope of what lies from each row of a block to its end, for the window that begins there. */
function slopeEnds(
  x: Float64Array,
  first: number,
  end: number,
  block: number,
  { one, two }: PairOfSums,
  ends: Float64Array,
): void {
  const [before1, before2] = [one.value, two.value];
  const origin = x[block - 1];
  const bars = ends.length - 1;
  const middle = (bars - 1) / 2;
  const shift = block - bars;
  let part1 = 0;
  let part2 = 0;
  let place = asFraction(end - block);
  let aboutMiddle = end - 1 - shift - middle;
  for (let t = end - 1, i = end - 1 - shift; t >= first; t--, i--) {
    const d = x[t] - origin;
    part1 += d;
    part2 += place * d;
    ends[i] = before2 + part2 - aboutMiddle * (before1 + part1);
    place -= 1;
    aboutMiddle -= 1;
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
  { one, two }: PairOfSums,
  ends: Float64Array,
  out: Float64Array,
): void {
  const [before1, before2] = [one.value, two.value];
  const origin = x[block - 1];
  const middle = (bars - 1) / 2;
  const squares = (bars * (bars * bars - 1)) / 12;
  let part1 = 0;
  let part2 = 0;
  let place = asFraction(first - block + 1);
  let aboutMiddle = place - middle;
  for (let t = first, i = first - block + 1; t < end; t++, i++) {
    const d = x[t] - origin;
    part1 += d;
    part2 += place * d;
    out[t] = (ends[i] + (before2 + part2 - aboutMiddle * (before1 + part1))) / squares;
    place += 1;
    aboutMiddle += 1;
  }
  one.fold(part1);
  two.fold(part2);
}
