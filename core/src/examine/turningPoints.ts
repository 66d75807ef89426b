import { requireWhole } from '../arguments.js';
import { isFinite } from '../windows/anchoredSums.js';

/** Rows at which a column turns, a top after each bottom and a bottom after each top. */
export interface TurningPoints {
  tops: number[];
  bottoms: number[];
}

/**
 * The tops and bottoms of a column: values that none within some rows on either side is beyond, the first of equal ones. Of
 * tops without a bottom between them the highest stands, of bottoms the lowest. Within so many rows of either end there is none.
 * @param x     values of any unit; missing ones are passed over, but count as rows
 * @param rows  on either side, from 1
 * @throws {ArgumentError} for rows that are no whole number from 1
 * @see definitions, section 10. O(n)
 */
export function turningPoints(x: Float64Array, rows: number): TurningPoints {
  requireWhole('rows', rows, { min: 1, max: Infinity });
  const highs = extremes(x, rows, 1);
  const lows = extremes(x, rows, -1);
  // where nothing about it differs, a row is neither
  const isHigh = new Set(highs);
  const isBoth = new Set(lows.filter((row) => isHigh.has(row)));
  const [tops, bottoms] = [highs, lows].map((found) => found.filter((row) => !isBoth.has(row)));
  const found: TurningPoints = { tops: [], bottoms: [] };
  let [top, bottom] = [0, 0];
  let last: { row: number; isTop: boolean } | undefined;
  const keep = ({ row, isTop }: NonNullable<typeof last>) => (isTop ? found.tops : found.bottoms).push(row);
  while (top < tops.length || bottom < bottoms.length) {
    const isTop = !(bottoms[bottom] < (tops[top] ?? Infinity));
    const row = isTop ? tops[top++] : bottoms[bottom++];
    if (last?.isTop === isTop) {
      if (isTop ? x[row] > x[last.row] : x[row] < x[last.row]) last = { row, isTop };
      continue;
    }
    if (last) keep(last);
    last = { row, isTop };
  }
  if (last) keep(last);
  return found;
}

/** Rows whose value, times a sign, is above all within some rows before and not below those after. */
function extremes(x: Float64Array, rows: number, sign: 1 | -1): number[] {
  const found: number[] = [];
  /** Rows whose values fall: each has found nothing above it since. */
  const waiting: number[] = [];
  const before = new Map<number, number>();
  const close = (row: number, after: number) => {
    const reach = Math.min(row - before.get(row)!, after - row);
    if (reach > rows && row >= rows && row < x.length - rows) found.push(row);
    before.delete(row);
  };
  for (let row = 0; row < x.length; row++) {
    if (!isFinite(x[row])) continue;
    const value = sign * x[row];
    while (waiting.length > 0 && sign * x[waiting[waiting.length - 1]] < value) close(waiting.pop()!, row);
    before.set(row, waiting.length > 0 ? waiting[waiting.length - 1] : -Infinity);
    waiting.push(row);
  }
  for (const row of waiting) close(row, Infinity);
  return found.sort((a, b) => a - b);
}

/** Rows from each to the next. */
export const distances = (rows: readonly number[]): Float64Array =>
  Float64Array.from({ length: Math.max(0, rows.length - 1) }, (_, at) => rows[at + 1] - rows[at]);
