import { seasonalShape } from '../../examine/seasonalShape.js';
import { stationarity } from '../../examine/stationarity.js';
import { modelText, type ArimaModel, type Criterion } from '../model.js';
import { ModelRefusal, type Coefficients } from '../outlook.js';
import { fitArima, type FittedArima } from './arima.js';
import { differenced, differencing, partialsOf } from './polynomials.js';

export interface Candidate {
  model: ArimaModel;
  aic: number;
  aicc: number;
  bic: number;
  /** Why it is passed over, where it is. */
  passedOver: string;
}

export interface ChosenArima {
  model: ArimaModel;
  fitted: FittedArima;
  /** All that were tried, the best first. They share their differencing, so that criteria can be compared. */
  candidates: Candidate[];
}

interface ArimaSearch {
  /** Rows of a season; none without. */
  season?: number;
  isOfLogs?: boolean;
  criterion?: Criterion;
  /** Step by step to better neighbours, or every order. */
  search?: 'stepwise' | 'all';
  /** Called now and then with the number of candidates so far; it may throw to stop. */
  goOn?: (tried: number) => void;
}

const MOST = { p: 5, q: 5, P: 2, Q: 2, together: 5 };
/** Seasons explain so much of a column that is differenced by them. */
const STRONG_SEASON = 0.64;
/** Roots that are closer to the unit circle are not trusted. */
const LEAST_ROOT = 1.001;

interface Orders {
  p: number;
  q: number;
  P: number;
  Q: number;
  hasConstant: boolean;
}

/**
 * The arima of the lowest criterion: its differencing by tests, its orders by search (Hyndman and Khandakar 2008).
 * @param x  values that are all there, logarithms already where those are meant
 * @throws {ModelRefusal} where no candidate can have these values
 * @see definitions, section 11
 */
export function chooseArima(
  x: Float64Array,
  { season, isOfLogs = false, criterion = 'aicc', search = 'stepwise', goOn = () => undefined }: ArimaSearch = {},
): ChosenArima {
  const D =
    season !== undefined && x.length >= 2 * season && seasonalShape(x, season).strength.season > STRONG_SEASON ? 1 : 0;
  const d = differencesOf(differenced(x, differencing(0, D, season ?? 1)));
  const canHaveConstant = d + D <= 1;
  const tried = new Map<string, Candidate>();

  const modelOf = ({ p, q, P, Q, hasConstant }: Orders): ArimaModel => ({
    ...{ kind: 'arima', isOfLogs, p, d, q, hasConstant: hasConstant && canHaveConstant },
    ...(season !== undefined && { seasonal: { p: P, d: D, q: Q, rows: season } }),
  });
  const attempt = (orders: Orders) => {
    const model = modelOf(orders);
    const name = modelText(model);
    const known = tried.get(name);
    if (known) return known;
    goOn(tried.size);
    const found = candidate(x, model, () => goOn(tried.size));
    tried.set(name, found);
    return found;
  };
  const worth = (found: Candidate) => (found.passedOver ? Infinity : found[criterion]);
  const isAllowed = ({ p, q, P, Q }: Orders) =>
    [p, q, P, Q].every((order) => order >= 0) &&
    p <= MOST.p &&
    q <= MOST.q &&
    P <= (season ? MOST.P : 0) &&
    Q <= (season ? MOST.Q : 0) &&
    p + q + P + Q <= MOST.together;

  if (search === 'all') for (const orders of everyOrder(canHaveConstant)) if (isAllowed(orders)) attempt(orders);
  if (search === 'stepwise') {
    let best = startOrders(season !== undefined, canHaveConstant).reduce((a, b) =>
      worth(attempt(b)) < worth(attempt(a)) ? b : a,
    );
    for (let isBetter = true; isBetter;) {
      const own = worth(attempt(best));
      const next = neighbours(best, canHaveConstant).find((one) => isAllowed(one) && worth(attempt(one)) < own);
      isBetter = next !== undefined;
      best = next ?? best;
    }
  }
  const candidates = [...tried.values()].sort((a, b) => worth(a) - worth(b));
  const [best, ...others] = candidates;
  if (!best || best.passedOver) throw new ModelRefusal(best?.passedOver ?? 'no candidate can have these values');
  const fitted = fitArima(x, best.model, undefined, { wantsErrors: true, goOn: () => goOn(tried.size) });
  const { aic, aicc, bic } = fitted;
  return { model: best.model, fitted, candidates: [{ ...best, aic, aicc, bic }, ...others] };
}

/** How often a column is differenced until it is stationary by the test, at most twice. */
function differencesOf(x: Float64Array): number {
  let column = x;
  for (let d = 0; d < 2; d++) {
    const { statistic, critical } = stationarity(column);
    if (!(statistic >= critical.five)) return d;
    column = differenced(column, [1, -1]);
  }
  return 2;
}

function candidate(x: Float64Array, model: ArimaModel, goOn: () => void): Candidate {
  try {
    const { aic, aicc, bic, coefficients } = fitArima(x, model, undefined, { goOn, isQuick: true });
    const passedOver = hasRootNearCircle(coefficients)
      ? 'a root lies at the unit circle'
      : Number.isNaN(aicc)
        ? 'too few values for its numbers'
        : '';
    return { model, aic, aicc, bic, passedOver };
  } catch (error) {
    if (!(error instanceof ModelRefusal)) throw error;
    return { model, aic: NaN, aicc: NaN, bic: NaN, passedOver: error.message };
  }
}

/** Whether a polynomial has a root nearer to 0 than the least that is trusted. */
function hasRootNearCircle({ ar, ma, sar, sma }: Coefficients): boolean {
  const isNear = (phi: readonly number[]) => !partialsOf(phi.map((one, at) => one * LEAST_ROOT ** (at + 1)));
  const negative = (theta: readonly number[]) => theta.map((one) => -one);
  return [ar, negative(ma), sar, negative(sma)].some(isNear);
}

function startOrders(hasSeason: boolean, hasConstant: boolean): Orders[] {
  const season = (P: number, Q: number) => (hasSeason ? { P, Q } : { P: 0, Q: 0 });
  return [
    { p: 2, q: 2, ...season(1, 1), hasConstant },
    { p: 0, q: 0, ...season(0, 0), hasConstant },
    ...(hasConstant ? [{ p: 0, q: 0, ...season(0, 0), hasConstant: false }] : []),
    { p: 1, q: 0, ...season(1, 0), hasConstant },
    { p: 0, q: 1, ...season(0, 1), hasConstant },
  ];
}

function neighbours(at: Orders, canHaveConstant: boolean): Orders[] {
  const moved = (by: Partial<Record<'p' | 'q' | 'P' | 'Q', number>>) => ({
    ...at,
    p: at.p + (by.p ?? 0),
    q: at.q + (by.q ?? 0),
    P: at.P + (by.P ?? 0),
    Q: at.Q + (by.Q ?? 0),
  });
  return [
    ...[1, -1].flatMap((by) => [moved({ p: by }), moved({ q: by }), moved({ P: by }), moved({ Q: by })]),
    ...[1, -1].flatMap((by) => [moved({ p: by, q: by }), moved({ P: by, Q: by })]),
    ...(canHaveConstant ? [{ ...at, hasConstant: !at.hasConstant }] : []),
  ];
}

function* everyOrder(canHaveConstant: boolean): Generator<Orders> {
  for (let p = 0; p <= MOST.p; p++)
    for (let q = 0; q <= MOST.q; q++)
      for (let P = 0; P <= MOST.P; P++)
        for (let Q = 0; Q <= MOST.Q; Q++)
          for (const hasConstant of canHaveConstant ? [true, false] : [false]) yield { p, q, P, Q, hasConstant };
}
