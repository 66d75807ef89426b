import { pieces } from './numeric/pieces.js';

/** Why an argument was refused: which one, what it may be, and what came. */
export class ArgumentError extends RangeError {
  override readonly name = 'ArgumentError';
  constructor(
    readonly argument: string,
    readonly range: string,
    readonly got: unknown,
  ) {
    super(`${argument} must be ${range}, got ${String(got)}`);
  }
}

interface NumberBounds {
  min?: number;
  max?: number;
}

/** @throws {ArgumentError} unless `value` is a whole number within the bounds, both included */
export function requireWhole(argument: string, value: number, { min = 0, max = Infinity }: NumberBounds): void {
  if (Number.isInteger(value) && value >= min && value <= max) return;
  const range = max === Infinity ? `a whole number from ${min}` : `a whole number from ${min} to ${max}`;
  throw new ArgumentError(argument, range, value);
}

/** @throws {ArgumentError} unless both columns have as many rows */
export function requireSameLength(argument: string, column: ArrayLike<number>, rows: number): void {
  if (column.length !== rows) throw new ArgumentError(argument, `a column of ${rows} rows`, `${column.length} rows`);
}

/** @throws {ArgumentError} with the first row at which `time` falls */
export function requireRising(argument: string, time: Float64Array): void {
  for (const [from, to] of pieces(1, time.length)) {
    const row = firstFall(time, from, to);
    if (row >= 0) throw new ArgumentError(argument, 'in order of time', `row ${row} before row ${row - 1}`);
  }
}

function firstFall(time: Float64Array, from: number, to: number): number {
  let last = time[from - 1];
  for (let row = from; row < to; row++) {
    const at = time[row];
    if (!(at >= last)) return row;
    last = at;
  }
  return -1;
}
