import type { FunctionEntry, OtherThread, Settings } from './functionEntry.js';

/** Fewer rows than this are done before another thread has heard of them. */
export const FEWEST_SHARED_ROWS = 100_000;
/** Rows are divided at a multiple of this, at which blocks of work begin: so sums round as they do in one piece. */
const DIVIDED_AT = 4096;

/** A call whose later rows can be worked out apart from the earlier ones. */
type DivisibleEntry = FunctionEntry & Required<Pick<FunctionEntry, 'computeFrom' | 'reach'>>;

export const isDivisible = (entry: FunctionEntry): entry is DivisibleEntry => entry.computeFrom !== undefined;

/** All rows of a call, bit for bit as on one thread, with the later half of them on another. */
export function onTwoThreads(
  entry: DivisibleEntry,
  columns: readonly Float64Array[],
  settings: Settings,
  other: OtherThread,
  progress?: (share: number) => void,
): Float64Array[] {
  const rows = columns[0].length;
  const first = Math.ceil(rows / 2 / DIVIDED_AT) * DIVIDED_AT;
  const before = blockBefore(columns, first, entry.reach(settings)?.before ?? first);
  const parts = (entry.parts ?? [entry]).length;
  const order = { name: entry.name, columns: columns.map((x) => x.subarray(before)), settings, first: first - before };
  const later = other.begin(order, parts);
  try {
    const earlier = entry.computeFrom(
      columns.map((x) => x.subarray(0, first)),
      settings,
      0,
      progress,
    );
    const rest = later.wait();
    return earlier.map((column, part) => {
      const whole = new Float64Array(rows);
      whole.set(column);
      whole.set(rest[part].subarray(first - before), first);
      return whole;
    });
  } catch (error) {
    later.giveUp();
    throw error;
  }
}

/**
 * The row that the later half is looked back from: blocks of one window are counted from the first row with values, so that
 * sums round as in one piece. A row without a value cannot be the first one.
 */
function blockBefore(columns: readonly Float64Array[], first: number, reach: number): number {
  const isValid = (row: number) => columns.every((column) => Number.isFinite(column[row]));
  let start = 0;
  while (start < first && !isValid(start)) start++;
  for (let block = Math.floor((first - start) / (reach + 1)) - 1; block > 0; block--) {
    const row = start + block * (reach + 1);
    if (isValid(row)) return row;
  }
  return 0;
}
