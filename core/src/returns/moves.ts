import { requireWhole } from '../arguments.js';
import { lostBy } from '../numeric/foldedSum.js';
import { pieces } from '../numeric/pieces.js';

/** How far back a move looks: rows, or a stretch of time. */
export type Back = { rows: number } | { micros: number; time: Float64Array };

/** What a move makes of a value and its base. */
type Move = (value: number, base: number) => number;

/**
 * The value k rows back, or the last valid one at or before a time back.
 * @returns n values in the unit of x; NaN where no row stands there
 */
export function lag(x: Float64Array, back: Back): Float64Array {
  return 'rows' in back ? shifted(x, back.rows) : lagByTime(x, back.micros, back.time);
}

/** The value k rows ahead; NaN at the last k rows. Looks ahead. */
export function lead(x: Float64Array, rows: number): Float64Array {
  requireWhole('rows', rows, { min: 0 });
  const out = new Float64Array(x.length).fill(NaN);
  if (rows < x.length) out.set(x.subarray(rows));
  return out;
}

/** x[t] - x[t-k], in the unit of x. */
export function change(x: Float64Array, back: Back): Float64Array {
  if (!('rows' in back)) return moved(x, back, (value, base) => value - base);
  return byRows(x, back.rows, putChanges);
}

function putChanges(x: Float64Array, rows: number, out: Float64Array, from: number, to: number): void {
  for (let t = from; t < to; t++) out[t] = x[t] - x[t - rows];
}

/** x[t] / x[t-k] - 1, a fraction; NaN where the base is not above 0. */
export function simpleReturn(x: Float64Array, back: Back): Float64Array {
  if (!('rows' in back)) return moved(x, back, (value, base) => (base > 0 ? (value - base) / base : NaN));
  return byRows(x, back.rows, putReturns);
}

function putReturns(x: Float64Array, rows: number, out: Float64Array, from: number, to: number): void {
  for (let t = from; t < to; t++) {
    const base = x[t - rows];
    // a branch that is left behind is a third quicker here than a choice of two values
    if (!(base > 0)) {
      out[t] = NaN;
      continue;
    }
    // not value / base - 1: the difference of neighbours is exact, so tiny moves keep their digits
    out[t] = (x[t] - base) / base;
  }
}

/** ln(x[t] / x[t-k]), a fraction; NaN where either is not above 0. */
export function logReturn(x: Float64Array, back: Back): Float64Array {
  return moved(x, back, (value, base) => {
    if (!(base > 0 && value > 0)) return NaN;
    const move = (value - base) / base;
    // log1p keeps the digits of small moves; a large one is right either way
    return Math.abs(move) < 0.5 ? Math.log1p(move) : Math.log(value / base);
  });
}

/**
 * Running sum of the valid values, in the unit of x; a row without one shows the sum so far, missing before
 * the first.
 * @remarks compensated, so that no drift builds up
 */
export function cumulative(x: Float64Array): Float64Array {
  const out = new Float64Array(x.length);
  let sum = 0;
  let error = 0;
  let isBegun = false;
  for (let t = 0; t < x.length; t++) {
    const value = x[t];
    if (value - value === 0) {
      isBegun = true;
      const next = sum + value;
      error += lostBy(sum, value, next);
      sum = next;
    }
    out[t] = isBegun ? sum + error : NaN;
  }
  return out;
}

/** The column on a scale on which its first valid value is `to`; without a unit. */
export function rebase(x: Float64Array, to: number): Float64Array {
  const first = x.find((value) => value - value === 0) ?? NaN;
  return x.map((value) => (to * value) / first);
}

function moved(x: Float64Array, back: Back, move: Move): Float64Array {
  if ('rows' in back) return movedByRows(x, back.rows, move);
  const bases = lag(x, back);
  for (let t = 0; t < x.length; t++) bases[t] = move(x[t], bases[t]);
  return bases;
}

function movedByRows(x: Float64Array, rows: number, move: Move): Float64Array {
  return byRows(x, rows, (_, back, out, from, to) => {
    for (let t = from; t < to; t++) out[t] = move(x[t], x[t - back]);
  });
}

/** A column whose first rows are missing; the others are filled a piece at a time. */
function byRows(
  x: Float64Array,
  rows: number,
  fill: (x: Float64Array, rows: number, out: Float64Array, from: number, to: number) => void,
): Float64Array {
  requireWhole('rows', rows, { min: 0 });
  const out = new Float64Array(x.length).fill(NaN, 0, rows);
  for (const [from, to] of pieces(rows, x.length)) fill(x, rows, out, from, to);
  return out;
}

function shifted(x: Float64Array, rows: number): Float64Array {
  requireWhole('rows', rows, { min: 0 });
  const out = new Float64Array(x.length).fill(NaN, 0, rows);
  if (rows < x.length) out.set(x.subarray(0, x.length - rows), rows);
  return out;
}

function lagByTime(x: Float64Array, micros: number, time: Float64Array): Float64Array {
  const out = new Float64Array(x.length);
  let next = 0;
  let latest = NaN;
  for (let t = 0; t < x.length; t++) {
    for (; time[next] <= time[t] - micros; next++) if (!Number.isNaN(x[next])) latest = x[next];
    out[t] = latest;
  }
  return out;
}
