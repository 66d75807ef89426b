/** A function of several numbers; not finite where it has no value. */
type Objective = (x: readonly number[]) => number;

const STEP = 1e-5;
const MOST_STEPS = 200;
/** The search ends where a step gains no more than this of the value, twice; where it is to be quick, a thousand times that. */
const GAIN = 1e-9;

/**
 * The least value of a smooth function near a start, by quasi-Newton steps with differences for slopes (Broyden, Fletcher,
 * Goldfarb and Shanno 1970). The function may throw to stop the search.
 * @param isQuick  whether it may end a little above the least value
 */
export function minimise(of: Objective, start: readonly number[], isQuick = false): { x: number[]; value: number } {
  const n = start.length;
  let x = [...start];
  let value = of(x);
  if (n === 0 || !Number.isFinite(value)) return { x, value };
  let slope = slopeAt(of, x, value, isQuick);
  const gain = isQuick ? 1000 * GAIN : GAIN;
  let inverse = identity(n);
  let idle = 0;
  for (let step = 0; step < MOST_STEPS && idle < 2; step++) {
    let way = inverse.map((row) => -dot(row, slope));
    if (dot(way, slope) >= 0) {
      inverse = identity(n);
      way = slope.map((one) => -one);
    }
    // no step leads farther than a function of this kind can be trusted
    const size = Math.max(...way.map(Math.abs));
    if (size > 1.5) way = way.map((one) => (1.5 * one) / size);
    let length = 1;
    let [to, found] = [x, NaN];
    const downhill = dot(way, slope);
    for (let tries = 0; tries < 30; tries++, length /= 2) {
      to = x.map((one, i) => one + length * way[i]);
      found = of(to);
      if (found <= value + 1e-4 * length * downhill) break;
    }
    if (!(found < value)) {
      if (idle++ > 0) break;
      inverse = identity(n);
      continue;
    }
    idle = value - found < gain * Math.max(1, Math.abs(value)) ? idle + 1 : 0;
    const newSlope = slopeAt(of, to, found, isQuick);
    const moved = to.map((one, i) => one - x[i]);
    const turned = newSlope.map((one, i) => one - slope[i]);
    inverse = updated(inverse, moved, turned);
    [x, value, slope] = [to, found, newSlope];
  }
  return { x, value };
}

/** Slopes by differences to both sides, or to one where that is enough. */
function slopeAt(of: Objective, x: readonly number[], value: number, isQuick: boolean): number[] {
  return x.map((_, i) => {
    const at = (by: number) => of(x.map((one, j) => (j === i ? one + by : one)));
    const up = at(STEP);
    if (isQuick && Number.isFinite(up)) return (up - value) / STEP;
    const down = at(-STEP);
    if (Number.isFinite(up) && Number.isFinite(down)) return (up - down) / (2 * STEP);
    return Number.isFinite(up) ? (up - value) / STEP : Number.isFinite(down) ? (value - down) / STEP : 0;
  });
}

function updated(inverse: number[][], moved: number[], turned: number[]): number[][] {
  const along = dot(moved, turned);
  if (!(along > 1e-12)) return inverse;
  const through = inverse.map((row) => dot(row, turned));
  const share = (1 + dot(turned, through) / along) / along;
  return inverse.map((row, i) =>
    row.map((one, j) => one + share * moved[i] * moved[j] - (through[i] * moved[j] + moved[i] * through[j]) / along),
  );
}

/**
 * Square roots of the diagonal of the inverse of a function's second differences; NaN where they are not those of a least
 * value.
 */
export function curvatureErrors(of: Objective, x: readonly number[], steps: readonly number[]): number[] {
  const n = x.length;
  const at = (...by: [number, number][]) =>
    of(x.map((one, i) => by.reduce((sum, [j, share]) => (j === i ? sum + share * steps[i] : sum), one)));
  const middle = of(x);
  // they are the same on both sides of the diagonal
  const second = Array.from({ length: n }, (_, i) =>
    Array.from({ length: i + 1 }, (_, j) =>
      i === j
        ? (at([i, 1]) - 2 * middle + at([i, -1])) / steps[i] ** 2
        : (at([i, 1], [j, 1]) - at([i, 1], [j, -1]) - at([i, -1], [j, 1]) + at([i, -1], [j, -1])) /
          (4 * steps[i] * steps[j]),
    ),
  );
  // Cholesky, and the columns of the inverse of its lower part
  const lower = identity(n).map((row) => row.map(() => 0));
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = second[i][j];
      for (let k = 0; k < j; k++) sum -= lower[i][k] * lower[j][k];
      if (i === j && !(sum > 0)) return x.map(() => NaN);
      lower[i][j] = i === j ? Math.sqrt(sum) : sum / lower[j][j];
    }
  return x.map((_, wanted) => {
    const column = new Array<number>(n).fill(0);
    let squares = 0;
    for (let i = wanted; i < n; i++) {
      let sum = i === wanted ? 1 : 0;
      for (let k = wanted; k < i; k++) sum -= lower[i][k] * column[k];
      column[i] = sum / lower[i][i];
      squares += column[i] ** 2;
    }
    return Math.sqrt(squares);
  });
}

const identity = (n: number): number[][] =>
  Array.from({ length: n }, (_, i) => Array.from({ length: n }, (_, j) => (i === j ? 1 : 0)));
const dot = (a: readonly number[], b: readonly number[]): number => a.reduce((sum, one, i) => sum + one * b[i], 0);
