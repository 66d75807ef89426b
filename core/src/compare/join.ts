import { isFinite } from '../windows/anchoredSums.js';

/** Values at instants that rise. */
export interface TimedColumn {
  time: Float64Array;
  values: Float64Array;
}

interface JoinChoices {
  /** Rows that every column has, or that any has. */
  rows?: 'common' | 'all';
  /** Takes the last known value where a column has none, on all rows; nothing is carried before the first value. */
  carry?: boolean;
}

export interface Joined {
  time: Float64Array;
  /** A column each, NaN where it has no value. */
  columns: Float64Array[];
  /** Values that were carried, by column. */
  carried: number[];
}

/**
 * Columns on common rows, by the instants that their bars start at. A missing value counts as a row that is not there.
 * @see definitions, section 13
 */
export function joinColumns(
  columns: readonly TimedColumn[],
  { rows = 'common', carry = false }: JoinChoices = {},
): Joined {
  const valid = columns.map(({ values }) => Int32Array.from(values.keys()).filter((row) => isFinite(values[row])));
  const wantsAll = carry || rows === 'all';
  const time = instantsOf(columns, valid, wantsAll);
  const carried = columns.map(() => 0);
  const joined = columns.map(({ time: own, values }, at) => {
    const out = new Float64Array(time.length).fill(NaN);
    let next = 0;
    for (let row = 0; row < time.length; row++) {
      while (next < valid[at].length && own[valid[at][next]] < time[row]) next++;
      const isThere = next < valid[at].length && own[valid[at][next]] === time[row];
      if (isThere) out[row] = values[valid[at][next]];
      else if (carry && next > 0) {
        out[row] = values[valid[at][next - 1]];
        carried[at]++;
      }
    }
    return out;
  });
  return { time, columns: joined, carried };
}

/** Instants of all rows, or those at which every column has a value. */
function instantsOf(columns: readonly TimedColumn[], valid: readonly Int32Array[], wantsAll: boolean): Float64Array {
  const lists = columns.map(({ time }, at) => (wantsAll ? time : Float64Array.from(valid[at], (row) => time[row])));
  const all = new Float64Array(lists.reduce((sum, { length }) => sum + length, 0));
  let filled = 0;
  for (const list of lists) {
    all.set(list, filled);
    filled += list.length;
  }
  all.sort();
  // equal instants now stand together: as many as there are columns that have them
  const least = wantsAll ? 1 : columns.length;
  let kept = 0;
  for (let row = 0; row < all.length;) {
    let end = row + 1;
    while (end < all.length && all[end] === all[row]) end++;
    if (end - row >= least) all[kept++] = all[row];
    row = end;
  }
  return all.slice(0, kept);
}
