import { isFinite } from '../../windows/anchoredSums.js';

/** Which states a smoothing model has. */
export interface Shape {
  trend: 'none' | 'plain' | 'damped';
  /** Rows of a season; none without. */
  season?: number;
  isMultiplied: boolean;
}

/** Shares of an error that the states learn, each from 0 to 1, and the factor by which the slope shrinks. */
export interface Weights {
  level: number;
  trend: number;
  season: number;
  damping: number;
}
export const WEIGHT_NAMES = ['level', 'trend', 'season', 'damping'] as const;
export type WeightName = (typeof WEIGHT_NAMES)[number];

/** Level, slope and seasons before row 0; a season less than there are, since the last one follows from the others. */
export type StartStates = Float64Array;

/** States behind the last row, and the errors of all rows; NaN where a value is missing. */
export interface Run {
  level: number;
  slope: number;
  /** By place of the season, the place of row 0 first. */
  seasons: Float64Array;
  errors: Float64Array;
  fitted: Float64Array;
  /** Sum of squared errors; Infinity for states that are not allowed. */
  squares: number;
  /** Change of each row's error by each free weight and each start state, where they were asked for. */
  tangents?: Float64Array[];
}

export const stateCount = ({ trend, season }: Shape): number =>
  1 + (trend === 'none' ? 0 : 1) + (season ? season - 1 : 0);

/** All seasons of start states, with the one that follows from the others. */
export function seasonsOf({ trend, season, isMultiplied }: Shape, start: StartStates): Float64Array {
  if (!season) return new Float64Array(0);
  const own = start.subarray(trend === 'none' ? 1 : 2);
  const all = new Float64Array(season);
  all.set(own);
  all[season - 1] = own.reduce((rest, one) => rest - one, isMultiplied ? season : 0);
  return all;
}

/**
 * Runs a model over a column.
 * @param x     values from the first to the last that is there; NaN between them
 * @param free  weights whose tangents are wanted, before those of the start states; no tangents at all without
 * @see definitions, section 15
 */
export function run(
  x: Float64Array,
  shape: Shape,
  weights: Weights,
  start: StartStates,
  free?: readonly WeightName[],
): Run {
  const { level: a, trend: b, season: g } = weights;
  const { isMultiplied } = shape;
  const f = shape.trend === 'damped' ? weights.damping : 1;
  const first = firstStates(x, shape, start, free);
  const { hasTrend, seasons, count, dLevel, dSlope, dSeasons, errors, fitted, tangents, places } = first;
  let { level, slope } = first;
  const s = seasons.length;
  const refused = (): Run => ({ level, slope, seasons, errors, fitted, squares: Infinity });
  if (isMultiplied && !seasons.every((one) => one > 0)) return refused();
  let squares = 0;
  for (let t = 0, at = 0; t < x.length; t++, at = at + 1 === s ? 0 : at + 1) {
    const c = level + f * slope;
    const q = s > 0 ? seasons[at] : 0;
    if (isMultiplied && !(c > 0 && q > 0)) return refused();
    fitted[t] = isMultiplied ? c * q : c + q;
    const isThere = isFinite(x[t]);
    const e = isThere ? x[t] - fitted[t] : 0;
    if (isThere) errors[t] = e;
    squares += e * e;
    // the error as level and slope learn it, and as the season does
    const u = isMultiplied ? e / q : e;
    const next = c + a * u;
    const v = isMultiplied ? e / next : e;
    for (let i = 0; i < count; i++) {
      const dc = dLevel[i] + f * dSlope[i] + (i === places.f ? slope : 0);
      const dq = s > 0 ? dSeasons[at][i] : 0;
      const de = isThere ? (isMultiplied ? -(dc * q + c * dq) : -dc - dq) : 0;
      tangents![i][t] = de;
      const du = isMultiplied ? (de - u * dq) / q : de;
      dLevel[i] = dc + a * du + (i === places.a ? u : 0);
      if (hasTrend)
        dSlope[i] =
          f * dSlope[i] +
          (i === places.f ? slope : 0) +
          a * b * du +
          (i === places.a ? b * u : 0) +
          (i === places.b ? a * u : 0);
      if (s === 0) continue;
      const dv = isMultiplied ? (de - v * dLevel[i]) / next : de;
      dSeasons[at][i] = dq + g * (1 - a) * dv + (i === places.g ? (1 - a) * v : 0) - (i === places.a ? g * v : 0);
    }
    level = next;
    slope = hasTrend ? f * slope + a * b * u : 0;
    if (s > 0) seasons[at] = q + g * (1 - a) * v;
  }
  return { level, slope, seasons, errors, fitted, squares: Number.isFinite(squares) ? squares : Infinity, tangents };
}

function firstStates(x: Float64Array, shape: Shape, start: StartStates, free: readonly WeightName[] | undefined) {
  const hasTrend = shape.trend !== 'none';
  const seasons = seasonsOf(shape, start);
  const count = free ? free.length + start.length : 0;
  const zeros = () => new Float64Array(count);
  const [dLevel, dSlope, dSeasons] = [zeros(), zeros(), Array.from(seasons, zeros)];
  if (free) {
    dLevel[free.length] = 1;
    if (hasTrend) dSlope[free.length + 1] = 1;
    const first = free.length + (hasTrend ? 2 : 1);
    for (let place = 0; place < seasons.length - 1; place++) {
      dSeasons[place][first + place] = 1;
      dSeasons[seasons.length - 1][first + place] = -1;
    }
  }
  const place = (name: WeightName) => (free ? free.indexOf(name) : -1);
  return {
    ...{ hasTrend, seasons, count, dLevel, dSlope, dSeasons },
    ...{ level: start[0], slope: hasTrend ? start[1] : 0 },
    ...{ errors: new Float64Array(x.length).fill(NaN), fitted: new Float64Array(x.length) },
    tangents: free && Array.from({ length: count }, () => new Float64Array(x.length)),
    places: { a: place('level'), b: place('trend'), g: place('season'), f: place('damping') },
  };
}
