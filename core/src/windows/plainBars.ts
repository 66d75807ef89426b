import { byPieces } from '../numeric/pieces.js';
import type { Window } from './window.js';

/*
 * Windows of the last N bars over a column without gaps: the common case, in loops that the compiler can make plain.
 * The rows are cut into blocks of N. A window then is the end of one block and the beginning of the next, so each value
 * comes from a running result over the one and a running result over the other, and nothing is ever subtracted (van Herk
 * 1992): what has left a window has left no trace. Sums are not compensated here, which is what makes it quick; at the
 * lengths this is used for, that stays within the accuracy asked (error of a sum below N u of the sum of the magnitudes).
 */
const LONGEST = 1024;

/**
 * The length of a window that goes by these loops; nothing where the window or the column asks for the general way.
 * @param least  fewest valid values that give a result: a window that never holds so many does not go by them
 */
export function plainLength(window: Window, least: number, x: Float64Array): number | undefined {
  if (window.kind !== 'bars' || window.placed !== 'behind' || window.skip !== 0 || window.bars < least)
    return undefined;
  return window.bars <= LONGEST && isWithoutGaps(x) ? window.bars : undefined;
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
  const divisor = divide ? bars : 1;
  let sum = 0;
  for (let t = 0; t < Math.min(bars, rows); t++) {
    sum += x[t];
    out[t] = t + 1 < from ? NaN : divide ? sum / (t + 1) : sum;
  }
  let ends = new Float64Array(bars + 1);
  let next = new Float64Array(bars + 1);
  sum = 0;
  for (let i = Math.min(bars, rows) - 1; i > 0; i--) ends[i] = sum += x[i];
  for (let block = bars; block < rows; block += bars) {
    sumBlock(x, block, Math.min(bars, rows - block), divisor, ends, next, out);
    [ends, next] = [next, ends];
  }
  return out;
}

/**
 * The windows that end in a block: the end of the block before, of which `ends` holds the sums, and its own beginning. Its
 * ends go into `next` on the way, since the two sums do not wait for each other.
 */
function sumBlock(
  x: Float64Array,
  block: number,
  rows: number,
  divisor: number,
  ends: Float64Array,
  next: Float64Array,
  out: Float64Array,
): void {
  let begun = 0;
  let ended = 0;
  for (let i = 0, j = rows - 1; i < rows; i++, j--) {
    begun += x[block + i];
    ended += x[block + j];
    out[block + i] = (ends[i + 1] + begun) / divisor;
    next[j] = ended;
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
  let origin = x[0];
  let s1 = 0;
  let s2 = 0;
  for (let t = 0; t < Math.min(bars, rows); t++) {
    const d = x[t] - origin;
    s1 += d;
    s2 += d * d;
    const variance = Math.max(0, s2 - (s1 * s1) / (t + 1)) / (t + 1 - less);
    out[t] = t + 1 < from ? NaN : root ? Math.sqrt(variance) : variance;
  }
  const ends1 = new Float64Array(bars + 1);
  const ends2 = new Float64Array(bars + 1);
  const divisor = bars - less;
  for (let block = bars; block <= rows; block += bars) {
    origin = x[block - 1];
    s1 = s2 = 0;
    for (let i = bars - 1; i >= 0; i--) {
      const d = x[block - bars + i] - origin;
      ends1[i] = s1 += d;
      ends2[i] = s2 += d * d;
    }
    // the window that is the whole block has its own last value for an origin
    const whole = Math.max(0, s2 - (s1 * s1) / bars) / divisor;
    out[block - 1] = root ? Math.sqrt(whole) : whole;
    s1 = s2 = 0;
    const last = Math.min(bars - 1, rows - block);
    for (let i = 0; i < last; i++) {
      const d = x[block + i] - origin;
      s1 += d;
      s2 += d * d;
      const sum = ends1[i + 1] + s1;
      const variance = Math.max(0, ends2[i + 1] + s2 - (sum * sum) / bars) / divisor;
      out[block + i] = root ? Math.sqrt(variance) : variance;
    }
  }
  return out;
}

/** Slopes of x on the row over the last `bars` rows, `bars` of them at least two; NaN where there are fewer. */
export function plainSlope(x: Float64Array, bars: number): Float64Array {
  const rows = x.length;
  const out = new Float64Array(rows).fill(NaN, 0, Math.min(rows, bars - 1));
  const ends1 = new Float64Array(bars + 1);
  const endsP = new Float64Array(bars + 1);
  const squares = (bars * (bars * bars - 1)) / 12;
  const middle = (bars - 1) / 2;
  for (let block = bars; block <= rows; block += bars) {
    const origin = x[block - 1];
    // positions count from the row where the blocks meet, deviations from the value there
    let s1 = 0;
    let sp = 0;
    for (let i = bars - 1; i >= 0; i--) {
      const d = x[block - bars + i] - origin;
      ends1[i] = s1 += d;
      endsP[i] = sp += (i + 1 - bars) * d;
    }
    out[block - 1] = (sp + middle * s1) / squares;
    s1 = sp = 0;
    const last = Math.min(bars - 1, rows - block);
    for (let i = 0; i < last; i++) {
      const d = x[block + i] - origin;
      s1 += d;
      sp += (i + 1) * d;
      out[block + i] = (endsP[i + 1] + sp - (i + 1 - middle) * (ends1[i + 1] + s1)) / squares;
    }
  }
  return out;
}

/** Least (`sign` -1) or greatest (`sign` 1) value of the last `bars` rows. */
export function plainExtreme(x: Float64Array, bars: number, from: number, sign: 1 | -1): Float64Array {
  const rows = x.length;
  const out = new Float64Array(rows);
  const ends = new Float64Array(bars + 1);
  ends[bars] = -Infinity;
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
