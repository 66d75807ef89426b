import { requireSameLength } from '../arguments.js';
import { judged, unitRoot, type UnitRoot } from '../examine/unitRoot.js';
import { NOTHING, squaresOf } from '../numeric/deviations.js';
import { isFinite } from '../windows/anchoredSums.js';
import { leastSquares, logarithms } from './spread.js';

/** Whether two prices belong together: whether what a line between their logarithms leaves comes back. */
export interface Cointegration extends UnitRoot {
  beta: number;
  constant: number;
}

/**
 * The test of Engle and Granger 1987; its null is that they do not belong together.
 * @param a     prices; rows where either is missing or not above 0 are left out of both first
 * @param lags  changes before that are in the regression; chosen by the lowest AIC without
 * @throws {ArgumentError} for columns of unequal length
 * @see definitions, section 13
 */
export function cointegration(a: Float64Array, b: Float64Array, lags?: number): Cointegration {
  requireSameLength('b', b, a.length);
  const [x, y] = [logarithms(a), logarithms(b)];
  const isThere = (_: number, row: number) => isFinite(x[row]) && isFinite(y[row]);
  const [own, other] = [x.filter(isThere), y.filter(isThere)];
  const { slope: beta, constant } = leastSquares(own, other);
  const rest = own.map((value, row) => value - constant - beta * other[row]);
  const isNothing = !(squaresOf(rest) > NOTHING * squaresOf(own));
  const found = unitRoot(isNothing ? new Float64Array(0) : rest, 'none', lags);
  return {
    ...found,
    ...(Number.isNaN(found.tau) ? {} : judged(found.tau, 'pair', found.rows)),
    ...{ count: own.length, missing: a.length - own.length, beta, constant },
  };
}
