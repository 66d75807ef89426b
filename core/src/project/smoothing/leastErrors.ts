import { solveLeastSquares } from '../../numeric/householder.js';
import { NormalEquations } from '../../numeric/normalEquations.js';
import { isFinite } from '../../windows/anchoredSums.js';
import { run, stateCount, type Run, type Shape, type StartStates, type WeightName, type Weights } from './recursion.js';

/* Weights and start states of the least sum of squared one-step errors. */

/** Where a weight lies while it is searched for. */
const RANGES: Record<WeightName, readonly [number, number]> = {
  level: [0, 1],
  trend: [0, 1],
  season: [0, 1],
  damping: [0.8, 0.98],
};
/** Where the search starts: low trend weights and a slow level beside a quick trend are both common. */
const STARTS: Record<WeightName, readonly number[]> = {
  level: [0.01, 0.1, 0.3, 0.6, 0.95],
  trend: [0, 0.05, 0.3, 0.95],
  season: [0, 0.1, 0.5, 0.95],
  damping: [0.8, 0.98],
};
/** Number of starts, the best ones, that the search continues from. */
const BEST_STARTS = 6;
/** Rows, and seasons, that the search begins on; descents that end so near in all weights are one. */
const ROUGH_ROWS = 300;
const ROUGH_SEASONS = 8;
const NEAR = 0.01;
const MOST_STEPS = 200;
const MOST_HALVINGS = 20;
/** Steps that start states take for each start of the search, and in the end. */
const ROUGH_STEPS = 2;
const LAST_STEPS = 60;
/** A search ends where steps gain no more than this share. */
const GAIN = 1e-13;
/** Sums of squared errors below this share of the squares of the values are rounding. */
export const EXACT = 1e-20;
/** Sums of squares that differ by no more of themselves are the same. */
const SAME = 1e-12;

interface LeastErrors {
  weights: Weights;
  start: StartStates;
  run: Run;
}

/**
 * Searches from many starts, roughly on the first rows where there are many, and from the best of what that finds on all.
 * @param x      values from the first to the last that is there, NaN between them
 * @param given  weights that are not searched for
 * @param goOn   called for each sum of squares; it may throw to stop
 */
export function leastErrors(
  x: Float64Array,
  shape: Shape,
  given: Partial<Weights>,
  free: readonly WeightName[],
  goOn: () => void = () => undefined,
): LeastErrors {
  const fixed: Weights = { level: 0, trend: 0, season: 0, damping: 1, ...given };
  const whole = problemOf(x, shape, goOn);
  if (free.length === 0) return statesFor(whole, fixed, roughStart(x, shape), LAST_STEPS);
  const rows = Math.max(ROUGH_ROWS, ROUGH_SEASONS * (shape.season ?? 0));
  const rough = x.length > rows ? problemOf(fromFirstTo(x, rows), shape, goOn) : whole;
  const first = roughStart(rough.x, shape);
  const starts = combinations(free).map((own) => statesFor(rough, { ...fixed, ...own }, first, ROUGH_STEPS));
  const tried = starts.sort(bySquares).slice(0, BEST_STARTS);
  const found = distinct(tried.map((one) => descended(rough, one, free)).sort(bySquares), free);
  const settled =
    rough === whole
      ? found
      : found.map((one) => descended(whole, statesFor(whole, one.weights, one.start, ROUGH_STEPS), free));
  const best = settled.sort(bySquares)[0];
  return plainest(whole, statesFor(whole, best.weights, best.start, LAST_STEPS), free);
}

const bySquares = (a: LeastErrors, b: LeastErrors): number => a.run.squares - b.run.squares;

/** Leaves out descents that ended near one another. */
function distinct(some: readonly LeastErrors[], free: readonly WeightName[]): LeastErrors[] {
  const all: LeastErrors[] = [];
  for (const one of some)
    if (!all.some(({ weights }) => free.every((name) => Math.abs(weights[name] - one.weights[name]) < NEAR)))
      all.push(one);
  return all;
}

/** The first rows, up to one that has a value. */
function fromFirstTo(x: Float64Array, rows: number): Float64Array {
  let end = rows;
  while (!isFinite(x[end - 1])) end++;
  return x.subarray(0, end);
}

function problemOf(x: Float64Array, shape: Shape, goOn: () => void): Problem {
  const squares = x.reduce((sum, value) => (isFinite(value) ? sum + value * value : sum), 0);
  return { x, shape, nothing: EXACT * squares, goOn };
}

interface Problem {
  x: Float64Array;
  shape: Shape;
  /** Sums of squares up to this are rounding: nothing is left to explain. */
  nothing: number;
  goOn: () => void;
}

function combinations(free: readonly WeightName[]): Partial<Weights>[] {
  return free.reduce<Partial<Weights>[]>(
    (all, name) => all.flatMap((one) => STARTS[name].map((value) => ({ ...one, [name]: value }))),
    [{}],
  );
}

/**
 * The start states of the least squares for given weights. Errors of an added season are linear in them, so that one step finds
 * them; where seasons multiply it takes several.
 */
function statesFor(
  { x, shape, nothing, goOn }: Problem,
  weights: Weights,
  from: StartStates,
  steps: number,
): LeastErrors {
  goOn();
  let start = from;
  let now = run(x, shape, weights, start);
  const isLast = steps === LAST_STEPS;
  // the second step of an added season takes off rounding
  const most = shape.isMultiplied ? steps : isLast ? 2 : 1;
  for (let step = 0; step < most && now.squares > nothing; step++) {
    const slopes = run(x, shape, weights, start, []);
    if (!slopes.tangents) break;
    const change = isLast
      ? solveLeastSquares(slopes.tangents, negative(slopes.errors))
      : new NormalEquations(slopes.tangents, negative(slopes.errors)).solve();
    let [length, next, to] = [1, now, start];
    for (let tries = 0; tries < MOST_HALVINGS; tries++, length /= 2) {
      to = start.map((one, i) => one + length * change[i]);
      next = run(x, shape, weights, to);
      if (next.squares < now.squares) break;
    }
    if (!(next.squares < now.squares)) break;
    const gained = now.squares - next.squares;
    [start, now] = [to, next];
    if (gained <= 1e-15 * now.squares) break;
  }
  return { weights, start, run: now };
}

/** The target of a least-squares step; missing rows have no error and no slope. */
const negative = (errors: Float64Array): Float64Array => errors.map((one) => (isFinite(one) ? -one : 0));

/** Descends in weights and start states together (Levenberg 1944, Marquardt 1963). */
function descended(problem: Problem, from: LeastErrors, free: readonly WeightName[]): LeastErrors {
  const { x, shape } = problem;
  let best = from;
  let damping = 1e-3;
  let idle = 0;
  for (let step = 0; step < MOST_STEPS && idle < 2 && best.run.squares > problem.nothing; step++) {
    problem.goOn();
    const now = run(x, shape, best.weights, best.start, free);
    if (!now.tangents) break;
    const equations = new NormalEquations(now.tangents, negative(now.errors));
    const isOut = (change: Float64Array) =>
      free.flatMap((name, i) => {
        const [low, high] = RANGES[name];
        const value = best.weights[name];
        return (value <= low && change[i] < 0) || (value >= high && change[i] > 0) ? [i] : [];
      });
    let next: LeastErrors | undefined;
    for (let tries = 0; tries < 12; tries++, damping *= 4) {
      let skipped: number[] = [];
      let change = equations.solve(damping);
      for (let out = isOut(change); out.length > 0; out = isOut(change)) {
        skipped = [...skipped, ...out];
        change = equations.solve(damping, skipped);
      }
      const weights = { ...best.weights };
      free.forEach((name, i) => {
        const [low, high] = RANGES[name];
        weights[name] = Math.min(high, Math.max(low, weights[name] + change[i]));
      });
      const near = best.start.map((one, i) => one + change[free.length + i]);
      const there: LeastErrors = { weights, start: near, run: run(x, shape, weights, near) };
      const isNearer = there.run.squares < best.run.squares;
      const from = there.run.squares < Infinity ? near : best.start;
      const found = isNearer ? there : statesFor(problem, weights, from, 1);
      if (found.run.squares < best.run.squares) {
        next = found;
        break;
      }
    }
    if (!next) break;
    damping = Math.max(1e-9, damping / 10);
    idle = best.run.squares - next.run.squares <= GAIN * next.run.squares ? idle + 1 : 0;
    best = next;
  }
  return best;
}

/** Moves weights to an end of their range where the error is the same or lower, so that one without effect is 0. */
function plainest(problem: Problem, from: LeastErrors, free: readonly WeightName[]): LeastErrors {
  let best = from;
  for (const name of free)
    for (const end of RANGES[name]) {
      if (best.weights[name] === end) continue;
      const tried = statesFor(problem, { ...best.weights, [name]: end }, best.start, LAST_STEPS);
      const isSame = tried.run.squares <= best.run.squares * (1 + SAME);
      const isBetter = tried.run.squares < best.run.squares && end > best.weights[name];
      if (isBetter || (isSame && end < best.weights[name])) best = tried;
    }
  return best;
}

/** A straight line, and what values are over or under it by place of the season. */
function roughStart(x: Float64Array, { trend, season, isMultiplied, ...rest }: Shape): StartStates {
  const start = new Float64Array(stateCount({ trend, season, isMultiplied, ...rest }));
  const rows = Int32Array.from(x.keys()).filter((row) => isFinite(x[row]));
  const base = x[rows[0]];
  const mean = base + rows.reduce((sum, row) => sum + (x[row] - base), 0) / rows.length;
  const middle = rows.reduce((sum, row) => sum + row, 0) / rows.length;
  const [along, across] = rows.reduce(
    ([up, over], row) => [up + (row - middle) * (x[row] - mean), over + (row - middle) ** 2],
    [0, 0],
  );
  const hasTrend = trend !== 'none';
  let slope = hasTrend && across > 0 ? along / across : 0;
  // where seasons multiply, the line has to be above 0 at every row
  if (isMultiplied) slope = Math.min(slope, mean / (2 * (middle + 1)));
  if (isMultiplied) slope = Math.max(slope, -mean / (2 * (x.length - middle)));
  start[0] = mean - slope * (middle + 1);
  if (hasTrend) start[1] = slope;
  if (season && isMultiplied) {
    const [sums, counts] = [new Float64Array(season), new Float64Array(season)];
    for (const row of rows) {
      sums[row % season] += x[row] / (mean + slope * (row - middle));
      counts[row % season]++;
    }
    // the first rows may lack a place of the season
    const ratios = sums.map((sum, place) => (counts[place] > 0 ? sum / counts[place] : 1));
    const scale = season / ratios.reduce((sum, one) => sum + one, 0);
    for (let place = 0; place < season - 1; place++) start[(hasTrend ? 2 : 1) + place] = ratios[place] * scale;
  }
  return start;
}
