import { deviationsOf, isConstant, squaresOf, validOf } from '../numeric/deviations.js';
import { minimise } from '../numeric/minimise.js';
import { ModelRefusal, requireValues } from './outlook.js';

/** A variance that follows large moves and comes back to a level (Bollerslev 1986): h = w + a e^2 + b h, a row later. */
export interface Garch {
  w: number;
  a: number;
  b: number;
  /** a + b, and the rows in which a shock fades by half. */
  persistence: number;
  halfLife: number;
  /** The variance that it comes back to. */
  level: number;
  logLikelihood: number;
  /** Variances of the rows to come, from 1. */
  ahead: (horizon: number) => Float64Array;
}

/** Fewer returns tell nothing of how their variance moves. */
const FEWEST_RETURNS = 50;

/**
 * @param returns  of rows of equal length; missing ones are left out first
 * @param given    w, a and b that are not searched for
 * @param goOn     called for each likelihood; it may throw to stop
 * @throws {ModelRefusal} for fewer than 50, or all the same
 * @see definitions, section 11
 */
export function garch(
  returns: Float64Array,
  given?: Pick<Garch, 'w' | 'a' | 'b'>,
  goOn: () => void = () => undefined,
): Garch {
  const e = deviationsOf(validOf(returns));
  const n = e.length;
  requireValues('garch', FEWEST_RETURNS, n);
  if (isConstant(e)) throw new ModelRefusal('nothing left to explain: all returns are the same');
  const mean = squaresOf(e) / n;
  const at = ([way, share, level]: readonly number[]) => {
    const persistence = 1 / (1 + Math.exp(-way));
    const a = persistence / (1 + Math.exp(-share));
    return { a, b: persistence - a, w: mean * Math.exp(level) * (1 - persistence) };
  };
  const run = ({ w, a, b }: { w: number; a: number; b: number }) => {
    goOn();
    let [h, cost] = [mean, 0];
    for (let t = 0; t < n; t++) {
      if (t > 0) h = w + a * e[t - 1] ** 2 + b * h;
      cost += Math.log(h) + e[t] ** 2 / h;
    }
    return { cost: cost / 2, next: w + a * e[n - 1] ** 2 + b * h };
  };
  const { w, a, b } = given ?? at(leastOf((x) => run(at(x)).cost));
  const { cost, next } = run({ w, a, b });
  const persistence = a + b;
  const level = w / (1 - persistence);
  return {
    ...{ w, a, b, persistence, level },
    halfLife: Math.log(0.5) / Math.log(persistence),
    logLikelihood: -cost - (n / 2) * Math.log(2 * Math.PI),
    ahead: (horizon) => Float64Array.from({ length: horizon }, (_, h) => level + persistence ** h * (next - level)),
  };
}

/** From wild and calm persistence, and large and small shares of the last move. */
function leastOf(cost: (x: readonly number[]) => number): number[] {
  const starts = [
    [3, -2, 0],
    [1, -1, 0],
    [-1, 0, 0],
    [4.5, -3, 0],
  ];
  return starts.map((start) => minimise(cost, start)).reduce((a, b) => (b.value < a.value ? b : a)).x;
}
