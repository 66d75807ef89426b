import { requireSameLength, requireWhole } from '../arguments.js';
import { deviationsOf, isConstant, squaresOf } from '../numeric/deviations.js';
import { simpleReturn } from '../returns/moves.js';
import { isFinite } from '../windows/anchoredSums.js';

/** Correlations of all pairs, row by row: of columns i and j at i * columns + j. */
export interface CorrelationMatrix {
  columns: number;
  /** NaN where a pair has fewer than two rows in common, or one of the two does not move. */
  values: Float64Array;
}

/** Two clusters that were put together, by the places of their columns. */
export interface Join {
  left: number[];
  right: number[];
  /** Mean of 1 - r between their columns. */
  distance: number;
}

/**
 * Correlations of the simple returns of prices, each pair over the rows that both have.
 * @param rows  the last so many returns; all without
 * @param goOn  told the share that is done; it may throw to stop
 * @throws {ArgumentError} for members of unequal length, or rows that are no whole number from 2
 * @see definitions, section 13
 */
export function correlationMatrix(
  members: readonly Float64Array[],
  rows?: number,
  goOn: (share: number) => void = () => undefined,
): CorrelationMatrix {
  for (const member of members) requireSameLength('members', member, members[0].length);
  const returns = members.map((member) => simpleReturn(member, { rows: 1 }));
  return correlationsOf(returns, rows, goOn);
}

/** The same of columns as they stand. */
export function correlationsOf(
  columns: readonly Float64Array[],
  rows?: number,
  goOn: (share: number) => void = () => undefined,
): CorrelationMatrix {
  if (rows !== undefined) requireWhole('rows', rows, { min: 2 });
  const count = columns.length;
  const own = columns.map((column) =>
    rows === undefined ? column : column.subarray(Math.max(0, column.length - rows)),
  );
  // the first return is missing in every column: what all lack is left out, so that whole columns take the short way
  const isThere = (_: number, row: number) => own.some((column) => isFinite(column[row]));
  const kept = own.map((column) => column.filter(isThere));
  const scaled = kept.map((column) => (column.every(isFinite) ? unitOf(column) : undefined));
  const means = kept.map(meanOf);
  const values = productsOf(scaled, kept[0]?.length ?? 0, goOn);
  for (let i = 0; i < count; i++)
    for (let j = i; j < count; j++) {
      const isWhole = scaled[i] && scaled[j];
      const r = within(isWhole ? values[i * count + j] : pairOf(kept[i], kept[j], means[i], means[j]));
      values[i * count + j] = values[j * count + i] = i === j && !Number.isNaN(r) ? 1 : r;
    }
  return { columns: count, values };
}

const within = (r: number) => Math.max(-1, Math.min(1, r));

/** Deviations of length 1; NaN of a column that does not move. */
function unitOf(column: Float64Array): Float64Array {
  if (column.length < 2 || isConstant(column)) return new Float64Array(column.length).fill(NaN);
  const deviations = deviationsOf(column);
  const length = Math.sqrt(squaresOf(deviations));
  return deviations.map((value) => value / length);
}

/** Rows and columns that are multiplied together: four columns and another over so many rows lie in the nearest cache. */
const ROWS = 512;
const COLUMNS = 4;

/** Sums of products of all pairs of whole columns, at i * columns + j for j from i on; NaN of others. */
function productsOf(
  columns: readonly (Float64Array | undefined)[],
  rows: number,
  goOn: (share: number) => void,
): Float64Array {
  const sums = new Float64Array(columns.length ** 2);
  const nothing = new Float64Array(rows).fill(NaN);
  const all = columns.map((column) => column ?? nothing);
  for (let from = 0; from < rows; from += ROWS) {
    const to = Math.min(rows, from + ROWS);
    for (let i = 0; i < all.length; i += COLUMNS) {
      goOn((from + (i / all.length) * ROWS) / (rows + ROWS));
      const [a, b, c, d] = [0, 1, 2, 3].map((more) => all[i + more] ?? nothing);
      for (let j = i; j < all.length; j++) {
        const other = all[j];
        let [ofA, ofB, ofC, ofD] = [0, 0, 0, 0];
        for (let row = from; row < to; row++) {
          const x = other[row];
          ofA += a[row] * x;
          ofB += b[row] * x;
          ofC += c[row] * x;
          ofD += d[row] * x;
        }
        sums[i * all.length + j] += ofA;
        if (j > i) sums[(i + 1) * all.length + j] += ofB;
        if (j > i + 1) sums[(i + 2) * all.length + j] += ofC;
        if (j > i + 2) sums[(i + 3) * all.length + j] += ofD;
      }
    }
  }
  return rows > 0 ? sums : sums.fill(NaN);
}

/** The correlation of a pair over the rows that both have, in one pass about their means over all rows. */
function pairOf(a: Float64Array, b: Float64Array, meanA: number, meanB: number): number {
  let n = 0;
  let ofA = 0;
  let ofB = 0;
  let squaresA = 0;
  let squaresB = 0;
  let products = 0;
  let firstA = NaN;
  let firstB = NaN;
  let variesA = false;
  let variesB = false;
  for (let row = 0; row < a.length; row++) {
    const x = a[row] - meanA;
    const y = b[row] - meanB;
    if (!(x - x === 0 && y - y === 0)) continue; // one of them is missing
    if (n === 0) {
      firstA = x;
      firstB = y;
    }
    n++;
    variesA ||= x !== firstA;
    variesB ||= y !== firstB;
    ofA += x;
    ofB += y;
    squaresA += x * x;
    squaresB += y * y;
    products += x * y;
  }
  if (!variesA || !variesB) return NaN;
  return (products - (ofA * ofB) / n) / Math.sqrt((squaresA - ofA ** 2 / n) * (squaresB - ofB ** 2 / n));
}

function meanOf(column: Float64Array): number {
  let [sum, count] = [0, 0];
  for (const value of column)
    if (isFinite(value)) {
      sum += value;
      count++;
    }
  return sum / count;
}

const rising = (places: readonly number[]) => [...places].sort((a, b) => a - b);

/**
 * An order in which columns that move alike stand beside each other: clusters at the least mean distance 1 - r are joined, the
 * one with the earliest column in front; ties go to the earliest columns. A correlation that is missing counts as 0.
 * Average linkage after Sokal and Michener 1958; O(n^3), 500 columns in a tenth of a second.
 */
export function likenessOrder({ columns, values }: CorrelationMatrix): { order: number[]; joins: Join[] } {
  const clusters = Array.from({ length: columns }, (_, at) => [at]);
  const distance = values.map((r) => 1 - (Number.isNaN(r) ? 0 : r));
  /** First columns of the clusters that are left, rising; distances of clusters lie at those of their first columns. */
  let left = Array.from({ length: columns }, (_, at) => at);
  const joins: Join[] = [];
  while (left.length > 1) {
    let [best, first, second] = [Infinity, left[0], left[1]];
    for (let i = 0; i < left.length; i++)
      for (let j = i + 1; j < left.length; j++) {
        const apart = distance[left[i] * columns + left[j]];
        if (apart < best) [best, first, second] = [apart, left[i], left[j]];
      }
    joins.push({ left: rising(clusters[first]), right: rising(clusters[second]), distance: best });
    const [a, b] = [clusters[first].length, clusters[second].length];
    for (const other of left) {
      const apart = (a * distance[first * columns + other] + b * distance[second * columns + other]) / (a + b);
      distance[first * columns + other] = distance[other * columns + first] = apart;
    }
    clusters[first] = [...clusters[first], ...clusters[second]];
    left = left.filter((one) => one !== second);
  }
  return { order: left.length > 0 ? clusters[left[0]] : [], joins };
}

type MatrixOrder = 'given' | 'name' | 'likeness' | 'reference';

interface MatrixChoices {
  /** What is correlated: returns, or the columns as they stand. */
  of: 'returns' | 'levels';
  /** The last so many rows; all without. */
  window?: number;
  order: MatrixOrder;
  /** The place of the column that `reference` orders the others by, those that go with it most first. */
  reference?: number;
  names: readonly string[];
}

export interface OrderedMatrix {
  /** Places of the columns that there are. */
  order: number[];
  /** By columns as they were given, row by row; NaN of those that are not there. */
  values: Float64Array[];
  /** Of each with the others; NaN where there is none. */
  least: Float64Array;
  mean: Float64Array;
  greatest: Float64Array;
}

/**
 * Correlations of all pairs of some columns, of which any may be missing, with an order to show them in.
 * @see correlationsOf
 */
export function orderedMatrix(
  columns: readonly (Float64Array | undefined)[],
  { of, window, order, reference = 0, names }: MatrixChoices,
  goOn?: (share: number) => void,
): OrderedMatrix {
  const there = columns.flatMap((column, at) => (column ? [at] : []));
  // of the last rows alone, and the one that their first return is from
  const tailOf = (column: Float64Array) =>
    window === undefined ? column : column.subarray(Math.max(0, column.length - window - 1));
  const tails = there.map((at) => tailOf(columns[at]!));
  const own = of === 'returns' ? tails.map((tail) => simpleReturn(tail, { rows: 1 })) : tails;
  const matrix = correlationsOf(own, window, goOn);
  const values = columns.map(() => new Float64Array(columns.length).fill(NaN));
  there.forEach((i, row) => there.forEach((j, column) => (values[i][j] = matrix.values[row * there.length + column])));
  const others = values.map((row, i) => row.filter((r, j) => j !== i && !Number.isNaN(r)));
  const measured = (measure: (row: Float64Array) => number) =>
    Float64Array.from(others, (row) => (row.length > 0 ? measure(row) : NaN));
  const byReference = (at: number) => (Number.isNaN(values[reference]?.[at]) ? -2 : (values[reference]?.[at] ?? -2));
  const orders: Record<MatrixOrder, () => number[]> = {
    given: () => there,
    name: () => [...there].sort((a, b) => names[a].localeCompare(names[b])),
    likeness: () => likenessOrder(matrix).order.map((place) => there[place]),
    reference: () => [...there].sort((a, b) => byReference(b) - byReference(a)),
  };
  return {
    order: orders[order](),
    values,
    least: measured((row) => row.reduce((a, b) => Math.min(a, b))),
    mean: measured((row) => row.reduce((a, b) => a + b) / row.length),
    greatest: measured((row) => row.reduce((a, b) => Math.max(a, b))),
  };
}
