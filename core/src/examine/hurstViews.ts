import {
  HURST_METHODS,
  hurstOfPoints,
  hurstPoints,
  SHORTEST_HURST,
  type HurstEstimate,
  type HurstMethod,
} from '../memory/hurst.js';
import { shuffled } from './shuffled.js';
import { quantileOf } from './summary.js';
import { validOf } from '../numeric/deviations.js';

/** The exponent of all changes at once, one way, and what it is the slope of. */
export interface HurstView extends HurstEstimate {
  by: HurstMethod;
  /** Natural logarithms of sizes, and of how far things spread at each. */
  logSizes: Float64Array;
  logSpreads: Float64Array;
  /** Where 95 % of shuffled copies lie: their exponents, and their spreads at each size. NaN without copies. */
  copies: { low: number; high: number; lowSpreads: Float64Array; highSpreads: Float64Array };
}

/** Values beyond these are not shuffled: the band would take longer than one looks. */
const SHUFFLED_VALUES = 5000;

/**
 * Exponents of a column of changes by each estimator, beside those of the same changes in any order.
 * @param changes   of any unit; missing ones are left out first
 * @param shuffles  copies; of more than 5,000 changes the last 5,000 are shuffled, and spreads are not compared
 * @param goOn      called for each copy with the share that is done; it may throw to stop
 * @returns         nothing for fewer than 64 changes
 * @see definitions, sections 9 and 10
 */
export function hurstViews(
  changes: Float64Array,
  shuffles: number,
  seed: number,
  goOn: (share: number) => void,
): HurstView[] {
  const values = validOf(changes);
  if (values.length < SHORTEST_HURST) return [];
  const own = values.slice(-SHUFFLED_VALUES);
  const exponents = new Map(HURST_METHODS.map((by) => [by, new Float64Array(shuffles)]));
  const spreads = new Map(HURST_METHODS.map((by) => [by, new Map<number, number[]>()]));
  for (let copy = 0; copy < shuffles; copy++) {
    goOn(copy / shuffles);
    const other = shuffled(own, seed + copy);
    for (const by of HURST_METHODS) {
      const points = hurstPoints(other, by);
      exponents.get(by)![copy] = hurstOfPoints(points, by, own.length).h;
      if (own.length === values.length) noteSpreads(spreads.get(by)!, points);
    }
  }
  return HURST_METHODS.map((by) => {
    const points = hurstPoints(values, by);
    const at = (p: number) =>
      points.logSizes.map((size) => quantileOf(Float64Array.from(spreads.get(by)!.get(size) ?? []).sort(), p));
    const sorted = exponents.get(by)!.sort();
    return {
      by,
      ...hurstOfPoints(points, by, values.length),
      ...points,
      copies: {
        low: shuffles > 0 ? sorted[Math.floor(0.025 * shuffles)] : NaN,
        high: shuffles > 0 ? sorted[Math.ceil(0.975 * shuffles) - 1] : NaN,
        lowSpreads: at(0.025),
        highSpreads: at(0.975),
      },
    };
  });
}

type Points = ReturnType<typeof hurstPoints>;

function noteSpreads(spreads: Map<number, number[]>, { logSizes, logSpreads }: Points): void {
  logSizes.forEach((size, at) => {
    const some = spreads.get(size) ?? [];
    spreads.set(size, some);
    some.push(logSpreads[at]);
  });
}
