import { requireSameLength, requireWhole } from '../arguments.js';
import { crossCorrelation, type CrossCorrelation } from '../examine/crossCorrelation.js';
import { quantileOf } from '../examine/summary.js';
import { sumOf, validOf } from '../numeric/deviations.js';
import { simpleReturn } from '../returns/moves.js';
import { rollingCorrelation } from '../windows/pairs.js';
import { lastBars } from '../windows/window.js';
import { cointegration, type Cointegration } from './cointegration.js';
import { lowCorrelations, partedStretches, type PartedStretch } from './partedStretches.js';
import { halfLife, spreadOf, type HalfLife, type Spread, type SpreadBeta } from './spread.js';

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
  /** Relative change of each, from as many rows before it began as it looks back on, to where it was farthest. */
  movedA: number;
  movedB: number;
  /** Whose move was the larger. */
  led: 'a' | 'b';
  /** Whether the spread went on back over the rows after the end; undefined where those are not there yet. */
  cameBack: boolean | undefined;
  /** Rows from its beginning until the spread was at the mean that it had before; undefined where it has not been yet. */
  backAfter: number | undefined;
}

/** How two columns go together from row to row. */
export interface PairCorrelation {
  values: Float64Array;
  /** Their median: the usual level. */
  usual: number;
}

/** What holds of two columns as a whole. */
interface PairBonds {
  cointegration: Cointegration;
  /** Of returns; a high value at k > 0 says that a leads b by k rows. */
  leads: CrossCorrelation;
}

/** Two columns beside each other. */
interface PairOutlook extends PairBonds {
  correlation: PairCorrelation;
  spread: PairSpread;
  /** The spread in deviations. */
  z: Float64Array;
  stretches: ToldStretch[];
}

/**
 * Two columns on common rows: whether they move together, belong together, and when they have parted. Its steps can be had one
 * by one, for those who turn one window at a time.
 * @throws {ArgumentError} for columns of unequal length, or a choice that does not go
 * @see definitions, section 13
 */
export function comparePair(a: Float64Array, b: Float64Array, choices: PairChoices): PairOutlook {
  const { of, window, by, beta, rows, partedBy, begin, end, lags } = choices;
  const correlation = pairCorrelation(a, b, of, window);
  const spread = pairSpread(a, b, by, beta);
  const isLow = partedBy === 'correlation';
  const { z, stretches: far } = partedStretches(spread.values, isLow ? { rows } : { rows, begin, end });
  const low = () => lowCorrelations(correlation.values, { rows: window, begin, end });
  const stretches = isLow
    ? toldStretches(low(), a, b, correlation.values, { rows: window, isLow })
    : toldStretches(far, a, b, spread.values, { rows, isLow });
  return { correlation, spread, z, stretches, ...pairBonds(a, b, lags) };
}

/** @param window  rows of the rolling correlation @see comparePair */
export function pairCorrelation(
  a: Float64Array,
  b: Float64Array,
  of: PairChoices['of'],
  window: number,
): PairCorrelation {
  requireSameLength('b', b, a.length);
  requireWhole('window', window, { min: 2 });
  const [x, y] = of === 'returns' ? [a, b].map((column) => simpleReturn(column, { rows: 1 })) : [a, b];
  const values = rollingCorrelation(x, y, lastBars(window), window);
  return { values, usual: quantileOf(validOf(values).sort(), 0.5) };
}

export interface PairSpread extends Spread {
  halfLife: HalfLife;
}

/** @see comparePair */
export function pairSpread(a: Float64Array, b: Float64Array, by: PairChoices['by'], beta: SpreadBeta): PairSpread {
  const spread = by === 'ratio' ? { values: ratioOf(a, b), beta: 1 } : spreadOf(a, b, beta);
  return { ...spread, halfLife: halfLife(spread.values) };
}

/** @param lags  the most rows that the one is moved against the other @see comparePair */
function pairBonds(a: Float64Array, b: Float64Array, lags: number): PairBonds {
  const [x, y] = [a, b].map((column) => simpleReturn(column, { rows: 1 }));
  const both = x.filter((value, row) => isFinite(value) && isFinite(y[row])).length;
  return {
    cointegration: cointegration(a, b),
    leads: crossCorrelation(x, y, Math.max(0, Math.min(lags, both - 1))),
  };
}

/**
 * Stretches with what each of the two did and what came after.
 * @param signal  the spread or the correlation that the stretches are of
 * @param rows    that it looks back on
 * @param isLow   whether they are of a low correlation, which comes back by rising
 */
export function toldStretches(
  stretches: readonly PartedStretch[],
  a: Float64Array,
  b: Float64Array,
  signal: Float64Array,
  { rows, isLow }: { rows: number; isLow: boolean },
): ToldStretch[] {
  const search = new ReachedSearch(signal);
  return stretches.map((stretch) => {
    const { start, peakAt, side, after, end } = stretch;
    const from = Math.max(0, start - rows);
    const [movedA, movedB] = [a, b].map((x) => x[peakAt] / x[from] - 1);
    const before = validOf(signal.subarray(from, start));
    const isUp = isLow || side === 'below';
    const back = before.length < rows ? undefined : search.from(start, sumOf(before) / rows, isUp);
    return {
      ...stretch,
      ...{ movedA, movedB },
      led: Math.abs(Math.log1p(movedB)) > Math.abs(Math.log1p(movedA)) ? 'b' : 'a',
      cameBack: end === undefined || Number.isNaN(after) ? undefined : isUp === after > 0,
      backAfter: back === undefined ? undefined : back - start,
    };
  });
}

const BLOCK_ROWS = 256;

/** Finds the first row from one on at which a column has reached a level; passes over blocks that do not reach so far. */
class ReachedSearch {
  private readonly least: Float64Array;
  private readonly greatest: Float64Array;

  constructor(private readonly x: Float64Array) {
    const blocks = Math.ceil(x.length / BLOCK_ROWS);
    this.least = new Float64Array(blocks).fill(Infinity);
    this.greatest = new Float64Array(blocks).fill(-Infinity);
    x.forEach((value, row) => {
      const block = Math.floor(row / BLOCK_ROWS);
      if (value < this.least[block]) this.least[block] = value;
      if (value > this.greatest[block]) this.greatest[block] = value;
    });
  }

  /** @param isUp  whether it is reached from below */
  from(start: number, level: number, isUp: boolean): number | undefined {
    const reaches = (value: number) => (isUp ? value >= level : value <= level);
    for (let row = start; row < this.x.length;) {
      const block = Math.floor(row / BLOCK_ROWS);
      if (row % BLOCK_ROWS === 0 && !reaches(isUp ? this.greatest[block] : this.least[block])) row += BLOCK_ROWS;
      else if (reaches(this.x[row])) return row;
      else row++;
    }
    return undefined;
  }
}

/** a / b, missing where b is 0. */
const ratioOf = (a: Float64Array, b: Float64Array): Float64Array =>
  a.map((value, row) => (b[row] === 0 ? NaN : value / b[row]));
