import { requireSameLength, requireWhole } from '../arguments.js';
import { crossCorrelation, type CrossCorrelation } from '../examine/crossCorrelation.js';
import { quantileOf } from '../examine/summary.js';
import { sumOf, validOf } from '../numeric/deviations.js';
import { simpleReturn } from '../returns/moves.js';
import { rollingCorrelation } from '../windows/pairs.js';
import { lastBars } from '../windows/window.js';
import { cointegration, type Cointegration } from './cointegration.js';
import { lowCorrelations, partedStretches, type PartedStretch } from './partedStretches.js';
import { halfLife, spreadOf, type HalfLife, type SpreadBeta } from './spread.js';

export interface PairChoices {
  /** What is correlated: returns, or the columns as they stand, which is near 1 wherever both trend. */
  of: 'returns' | 'levels';
  /** Rows of the rolling correlation. */
  window: number;
  /** How the two are put into one: ln a - beta ln b, or a / b. */
  by: 'spread' | 'ratio';
  /** What tells that they have parted: deviations of that, or a correlation that is low. */
  partedBy: 'deviations' | 'correlation';
  beta: SpreadBeta;
  /** Rows that deviations are taken from; and deviations, or the correlation, where a stretch begins and where it ends. */
  rows: number;
  begin: number;
  end: number;
  /** Rows that the one is moved against the other. */
  lags: number;
}

/** A stretch in which two have parted, with what each did and what came after. */
export interface ToldStretch extends PartedStretch {
  /** Relative change of each, from as many rows before it began as deviations are taken from, to where it was farthest. */
  movedA: number;
  movedB: number;
  /** Whose move was the larger. */
  led: 'a' | 'b';
  /** Whether the spread went on back over the rows after the end; undefined where those are not there yet. */
  cameBack: boolean | undefined;
  /** Rows from its beginning until the spread was at the mean that it had before; undefined where it has not been yet. */
  backAfter: number | undefined;
}

/** How two columns go beside each other, row by row. */
export interface PairCourse {
  correlation: Float64Array;
  /** Median of the rolling correlation: its usual level. */
  usual: number;
  spread: Float64Array;
  beta: number | Float64Array;
  z: Float64Array;
  stretches: ToldStretch[];
  halfLife: HalfLife;
}

/** What holds of two columns as a whole. */
export interface PairBonds {
  cointegration: Cointegration;
  /** Of returns; a high value at k > 0 says that a leads b by k rows. */
  leads: CrossCorrelation;
}

export type PairOutlook = PairCourse & PairBonds;

/**
 * Two columns on common rows: whether they move together, belong together, and when they have parted.
 * @throws {ArgumentError} for columns of unequal length, or a choice that does not go
 * @see definitions, section 13
 */
export function comparePair(a: Float64Array, b: Float64Array, choices: PairChoices): PairOutlook {
  return { ...pairCourse(a, b, choices), ...pairBonds(a, b, choices.lags) };
}

/** What of a pair goes by windows, O(1) a row, so that it can be worked out anew while a window is turned. @see comparePair */
export function pairCourse(a: Float64Array, b: Float64Array, choices: Omit<PairChoices, 'lags'>): PairCourse {
  requireSameLength('b', b, a.length);
  const { of, window, by, beta, rows, begin, end } = choices;
  requireWhole('window', window, { min: 2 });
  const [x, y] = of === 'returns' ? [a, b].map((column) => simpleReturn(column, { rows: 1 })) : [a, b];
  const correlation = rollingCorrelation(x, y, lastBars(window), window);
  const ratio = () => ({ values: a.map((value, row) => value / b[row]), beta: 1 });
  const spread = by === 'ratio' ? ratio() : spreadOf(a, b, beta);
  const isLow = choices.partedBy === 'correlation';
  const { z, stretches: far } = partedStretches(spread.values, isLow ? { rows } : { rows, begin, end });
  const stretches = isLow ? lowCorrelations(correlation, { rows: window, begin, end }) : far;
  return {
    correlation,
    usual: quantileOf(validOf(correlation).sort(), 0.5),
    spread: spread.values,
    beta: spread.beta,
    z,
    stretches: stretches.map((one) => told(one, a, b, isLow ? correlation : spread.values, isLow, rows)),
    halfLife: halfLife(spread.values),
  };
}

/** What of a pair goes by no window. @param lags  the most rows that the one is moved against the other @see comparePair */
export function pairBonds(a: Float64Array, b: Float64Array, lags: number): PairBonds {
  const [x, y] = [a, b].map((column) => simpleReturn(column, { rows: 1 }));
  const both = x.filter((value, row) => isFinite(value) && isFinite(y[row])).length;
  return {
    cointegration: cointegration(a, b),
    leads: crossCorrelation(x, y, Math.max(0, Math.min(lags, both - 1))),
  };
}

function told(
  stretch: PartedStretch,
  a: Float64Array,
  b: Float64Array,
  spread: Float64Array,
  isLow: boolean,
  rows: number,
): ToldStretch {
  const { start, greatestAt, side, after, end } = stretch;
  const from = Math.max(0, start - rows);
  const moved = (x: Float64Array) => x[greatestAt] / x[from] - 1;
  // the mean that it had before
  const level = start < rows ? NaN : sumOf(spread.slice(start - rows, start)) / rows;
  const isUp = isLow || side === 'below';
  const isBack = (value: number) => (isUp ? value >= level : value <= level);
  const back = spread.subarray(start).findIndex(isBack);
  const [movedA, movedB] = [moved(a), moved(b)];
  return {
    ...stretch,
    movedA,
    movedB,
    led: Math.abs(Math.log1p(movedB)) > Math.abs(Math.log1p(movedA)) ? 'b' : 'a',
    cameBack: end === undefined || Number.isNaN(after) ? undefined : isUp === after > 0,
    backAfter: back < 0 ? undefined : back,
  };
}
