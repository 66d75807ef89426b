import { SortOrder } from '../numeric/sortOrder.js';
import { BLOCK_ROWS } from './window.js';

/*
 * The rows are cut into blocks of N, each sorted once into a linked list. A window is the end of one block and the
 * beginning of the next: from row to row one value is taken out of the list of the first, and one is put back into that of
 * the second, where it had been taken out before (Suomela 2014, after Knuth's dancing links). A mark in each list stands
 * above its share of the lower values, and moves by a step or two a row, whatever the length.
 */

/**
 * Quantiles of the last `bars` rows, from the first full window on.
 * @param progress  told the share that is done, now and then
 * @returns         whether all is filled: false where x has a gap
 */
export function blockQuantile(
  x: Float64Array,
  bars: number,
  p: number,
  out: Float64Array,
  progress?: (share: number) => void,
): boolean {
  const rows = x.length;
  const place = p * (bars - 1);
  const target = Math.floor(place);
  out.fill(NaN, 0, Math.min(bars - 1, rows));
  if (rows < bars) return true; // no window is full, with gaps or without
  const sorter = new SortOrder(bars);
  let leaving = new SortedBlock(bars);
  let coming = new SortedBlock(bars);
  let told = 0;
  for (let block = 0; block < rows; block += bars) {
    if (block >= told) {
      progress?.(block / rows);
      told = block + BLOCK_ROWS;
    }
    if (!coming.fill(x, block, Math.min(rows, block + bars), sorter)) return false;
    if (block === 0) {
      coming.toMark(target);
      out[bars - 1] = between(coming.value, coming.following, place - target);
    } else {
      coming.empty();
      step(leaving, coming, target, place - target, out.subarray(block, block + coming.length));
    }
    [leaving, coming] = [coming, leaving];
  }
  return true;
}

const between = (value: number, above: number, share: number): number =>
  share === 0 ? value : value + share * (above - value);

/** The values of a block of rows as a list in rising order; its end is an index of its own, above all values. */
class SortedBlock {
  readonly values: Float64Array;
  readonly next: Int32Array;
  readonly before: Int32Array;
  /** Place of each value in the order of all: equal values by their index. */
  readonly rank: Int32Array;
  length = 0;
  /** Index at which the mark stands. */
  mark = 0;
  /** How many values in the list are below the mark. */
  below = 0;

  constructor(most: number) {
    this.values = new Float64Array(most + 1);
    this.next = new Int32Array(most + 1);
    this.before = new Int32Array(most + 1);
    this.rank = new Int32Array(most + 1);
  }

  /**
   * Takes the rows [from, to) in, all in the list.
   * @returns whether none is missing; if one is, the block is of no use
   */
  fill(x: Float64Array, from: number, to: number, sorter: SortOrder): boolean {
    const { values, next, before, rank } = this;
    const length = to - from;
    let gaps = 0; // NaN from the first missing value on
    for (let i = 0; i < length; i++) gaps += (values[i] = x[from + i]) * 0;
    if (gaps !== 0) return false;
    sorter.sort(values, length);
    const { order } = sorter;
    let last = length;
    for (let place = 0; place < length; place++) {
      const index = order[place];
      rank[index] = place;
      next[last] = index;
      before[index] = last;
      last = index;
    }
    next[last] = length;
    before[length] = last;
    values[length] = Infinity;
    rank[length] = length;
    this.length = length;
    return true;
  }

  /** Sets the mark above so many values. */
  toMark(below: number): void {
    this.mark = this.next[this.length];
    for (this.below = 0; this.below < below; this.below++) this.mark = this.next[this.mark];
  }

  /** Takes all out, the last first, so that they can be put back from the first on. */
  empty(): void {
    const { next, before, length } = this;
    for (let index = length - 1; index >= 0; index--) {
      next[before[index]] = next[index];
      before[next[index]] = before[index];
    }
    this.mark = length;
    this.below = 0;
  }

  get value(): number {
    return this.values[this.mark];
  }

  get following(): number {
    return this.values[this.next[this.mark]];
  }
}

/** The windows that end in a block. Between them the marks are above `target` values. */
function step(leaving: SortedBlock, coming: SortedBlock, target: number, share: number, out: Float64Array): void {
  const { values: a, next: nextA, before: beforeA, rank: rankA, length: endA } = leaving;
  const { values: b, next: nextB, before: beforeB, rank: rankB, length: endB } = coming;
  let { mark: markA, below: belowA } = leaving;
  let { mark: markB, below: belowB } = coming;
  for (let i = 0; i < out.length; i++) {
    nextA[beforeA[i]] = nextA[i];
    beforeA[nextA[i]] = beforeA[i];
    if (rankA[i] < rankA[markA]) belowA--;
    else {
      // a value above goes: the greatest below is looked at anew, since the one that comes may be less
      if (i === markA) markA = nextA[i];
      if (belowA > 0) {
        markA = beforeA[markA];
        belowA--;
      }
    }
    nextB[beforeB[i]] = i;
    beforeB[nextB[i]] = i;
    if (rankB[i] < rankB[markB]) markB = beforeB[markB];
    while (belowA + belowB < target) {
      if (a[markA] <= b[markB]) {
        markA = nextA[markA];
        belowA++;
      } else {
        markB = nextB[markB];
        belowB++;
      }
    }
    const [valueA, valueB] = [a[markA], b[markB]];
    const isA = valueA <= valueB;
    const value = isA ? valueA : valueB;
    if (share === 0) out[i] = value;
    else {
      const follows = isA ? (markA === endA ? Infinity : a[nextA[markA]]) : markB === endB ? Infinity : b[nextB[markB]];
      const other = isA ? valueB : valueA;
      out[i] = value + share * ((follows < other ? follows : other) - value);
    }
  }
  coming.mark = markB;
  coming.below = belowB;
}
