import { ArgumentError } from '../arguments.js';
import { WEIGHT_NAMES, type Shape, type Weights } from './smoothing/recursion.js';

/** How a column is forecast. Rows and seasons count values that are there; those of smoothing count missing ones too. */
export type Model = { floor?: number } & (
  SimpleModel | ArimaModel | ChosenModel | SmoothModel | ChosenSmoothModel | CrostonModel
);

/** Exponential smoothing with a level, a trend and a season. */
export interface SmoothModel extends Shape {
  kind: 'smooth';
  isOfLogs: boolean;
  /** Those that are given; the others are fitted. */
  weights: Partial<Weights>;
  floor?: number;
}

/** Exponential smoothing of a kind that is chosen by a criterion. */
export interface ChosenSmoothModel {
  kind: 'chosen smooth';
  isOfLogs: boolean;
  criterion: Criterion;
  /** Rows of a season, or to be found among the cycles; none without. */
  season?: number | 'cycles';
  floor?: number;
}

/** Counts with many zeros: size and gap of those above 0. */
export interface CrostonModel {
  kind: 'croston';
  isOfLogs: boolean;
  factor?: number;
  /** Without the correction of the bias of the ratio. */
  isUncorrected: boolean;
  floor?: number;
}

export type SimpleModel = { isOfLogs: boolean } & (
  | { kind: 'last'; season?: number }
  | { kind: 'mean'; rows?: number }
  | { kind: 'drift' }
  | { kind: 'trend'; rows?: number }
  | { kind: 'growth'; rows?: number }
  | { kind: 'average'; rows: number }
  /** Without a factor the one with the least squared errors is taken. */
  | { kind: 'ema'; factor?: number }
  /** The last value in a band: the variance of log returns by garch(1, 1), or as an exponential average held level. */
  | { kind: 'garch' }
  | { kind: 'ewma'; decay: number }
);

/** Values, differences and shocks back, and the same by seasons. */
export interface ArimaModel {
  kind: 'arima';
  isOfLogs: boolean;
  p: number;
  d: number;
  q: number;
  /** Nothing where there is no season. */
  seasonal?: { p: number; d: number; q: number; rows: number };
  hasConstant: boolean;
  /** Only these lags of its own past have a coefficient; all up to p without. */
  lags?: readonly number[];
}

/** By which the orders of an arima are chosen; the lowest is the best. */
export const CRITERIA = ['aicc', 'aic', 'bic'] as const;
export type Criterion = (typeof CRITERIA)[number];

/** An arima whose orders are searched for. */
export interface ChosenModel {
  kind: 'chosen';
  isOfLogs: boolean;
  /** Step by step to better neighbours, or every order. */
  search: 'stepwise' | 'all';
  criterion: Criterion;
  /** Rows of a season; none without. */
  season?: number;
}

/** Orders are searched for and given up to here. */
export const MOST_ORDER = 13;
export const MOST_SEASON = 60;
const MOST_ROWS = 1_000_000;

/** All forms that a model may be written in. */
const FORMS =
  '`last`, `last season 7`, `mean`, `mean 20`, `drift`, `trend`, `trend 60`, `growth`, `growth 20`, `average 20`, `ema`, `ema 0.3`, `garch`, `ewma 0.94`, `arima(2, 1, 1)`, or `arima` to have its orders chosen step by step, `arima all` among all of them, `arima by bic` by another criterion, `smooth level`, `smooth damped trend season 12 multiplied`, or `smooth season 12` to have the kind chosen, `croston` for counts with zeros, with `of log` behind where the logarithm is meant, and `at least 0` for a floor';

const PATTERNS: readonly [RegExp, (match: string[]) => object][] = [
  [/^last$/, () => ({ kind: 'last' })],
  [/^last season (\d+)$/, ([, rows]) => ({ kind: 'last', season: whole('season', rows, 1, MOST_ROWS) })],
  [/^mean(?: (\d+))?$/, ([, rows]) => ({ kind: 'mean', ...(rows && { rows: whole('rows', rows, 1, MOST_ROWS) }) })],
  [/^drift$/, () => ({ kind: 'drift' })],
  [/^trend(?: (\d+))?$/, ([, rows]) => ({ kind: 'trend', ...(rows && { rows: whole('rows', rows, 2, MOST_ROWS) }) })],
  [/^growth(?: (\d+))?$/, ([, rows]) => ({ kind: 'growth', ...(rows && { rows: whole('rows', rows, 1, MOST_ROWS) }) })],
  [/^average (\d+)$/, ([, rows]) => ({ kind: 'average', rows: whole('rows', rows, 1, MOST_ROWS) })],
  [/^ema(?: (\d*\.?\d+))?$/, ([, factor]) => ({ kind: 'ema', ...(factor && { factor: share(factor) }) })],
  [/^garch$/, () => ({ kind: 'garch' })],
  [/^ewma (\d*\.?\d+)$/, ([, decay]) => ({ kind: 'ewma', decay: decayOf(decay) })],
  [
    /^arima( all)?(?: by (aicc|aic|bic))?(?: season (\d+))?$/,
    ([, all, criterion, rows]) => ({
      kind: 'chosen',
      search: all === undefined ? 'stepwise' : 'all',
      criterion: (criterion ?? 'aicc') as Criterion,
      ...(rows && { season: whole('season', rows, 2, MOST_SEASON) }),
    }),
  ],
  [
    /^smooth (level|trend|damped trend)(?: season (\d+))?( multiplied)?(?: with (.+))?$/,
    ([, states, rows, multiplied, weights]) => ({
      kind: 'smooth',
      trend: states === 'level' ? 'none' : states === 'trend' ? 'plain' : 'damped',
      ...(rows && { season: whole('season', rows, 2, MOST_SEASON) }),
      isMultiplied: multiplied !== undefined,
      weights: weights === undefined ? {} : weightsIn(weights),
    }),
  ],
  [
    /^smooth(?: season(?: (\d+))?)?(?: by (aicc|aic|bic))?$/,
    ([text, rows, criterion]) => ({
      kind: 'chosen smooth',
      criterion: (criterion ?? 'aicc') as Criterion,
      ...(rows
        ? { season: whole('season', rows, 2, MOST_SEASON) }
        : text.includes('season') && { season: 'cycles' as const }),
    }),
  ],
  [
    /^croston(?: (\d*\.?\d+))?( uncorrected)?$/,
    ([, factor, uncorrected]) => ({
      kind: 'croston',
      ...(factor && { factor: Number(factor) }),
      isUncorrected: uncorrected !== undefined,
    }),
  ],
  [
    /^arima ?\((\d+), ?(\d), ?(\d+)\)(?: ?\((\d), ?(\d), ?(\d)\) season (\d+))?(?: lags ((?:\d+,? ?)+))?( no constant)?$/,
    ([, p, d, q, sp, sd, sq, rows, lags, none]) => ({
      kind: 'arima',
      p: whole('p', p, 0, MOST_ORDER),
      d: whole('d', d, 0, 2),
      q: whole('q', q, 0, MOST_ORDER),
      ...(rows !== undefined && {
        seasonal: {
          p: whole('P', sp, 0, 2),
          d: whole('D', sd, 0, 1),
          q: whole('Q', sq, 0, 2),
          rows: whole('season', rows, 2, MOST_SEASON),
        },
      }),
      ...(lags !== undefined && {
        lags: lags
          .trim()
          .split(/,? +|,/)
          .map((lag) => whole('lag', lag, 1, Math.max(1, Number(p)))),
      }),
      hasConstant: none === undefined,
    }),
  ],
];

/** @throws {ArgumentError} for what is no model */
export function parseModel(text: string): Model {
  const words = text.trim().toLowerCase().replaceAll(/\s+/g, ' ');
  const floor = / at least (-?\d*\.?\d+)$/.exec(words);
  const unbounded = floor ? words.slice(0, floor.index) : words;
  const isOfLogs = / of logs?$/.test(unbounded);
  const own = unbounded.replace(/ of logs?$/, '');
  for (const [pattern, model] of PATTERNS) {
    const match = pattern.exec(own);
    if (match) return { ...model(match), isOfLogs, ...(floor && { floor: Number(floor[1]) }) } as Model;
  }
  throw new ArgumentError('model', FORMS, `\`${text.slice(0, 80)}\``);
}

const STATES = { none: 'level', plain: 'trend', damped: 'damped trend' } as const;
const CRITERION_NAMES = { aicc: 'AICc', aic: 'AIC', bic: 'BIC' } as const;

/** A model as it is written. */
export function modelText(model: Model): string {
  const behind = `${model.isOfLogs ? ' of log' : ''}${model.floor === undefined ? '' : ` at least ${model.floor}`}`;
  switch (model.kind) {
    case 'last':
      return `last${model.season ? ` season ${model.season}` : ''}${behind}`;
    case 'mean':
    case 'trend':
    case 'growth':
      return `${model.kind}${model.rows ? ` ${model.rows}` : ''}${behind}`;
    case 'average':
      return `${model.kind} ${model.rows}${behind}`;
    case 'drift':
      return `drift${behind}`;
    case 'ema':
      return `ema${model.factor === undefined ? '' : ` ${model.factor}`}${behind}`;
    case 'garch':
      return `garch${behind}`;
    case 'ewma':
      return `ewma ${model.decay}${behind}`;
    case 'chosen': {
      const by = model.criterion === 'aicc' ? '' : ` by ${model.criterion}`;
      return `arima${model.search === 'all' ? ' all' : ''}${by}${model.season ? ` season ${model.season}` : ''}${behind}`;
    }
    case 'smooth': {
      const { season, isMultiplied, weights } = model;
      const given = WEIGHT_NAMES.filter((name) => weights[name] !== undefined).map(
        (name) => `${name} ${weights[name]}`,
      );
      const by = season === undefined ? '' : ` season ${season}`;
      const held = given.length > 0 ? ` with ${given.join(', ')}` : '';
      return `smooth ${STATES[model.trend]}${by}${isMultiplied ? ' multiplied' : ''}${held}${behind}`;
    }
    case 'chosen smooth': {
      const { season, criterion } = model;
      const by = season === undefined ? '' : season === 'cycles' ? ' season' : ` season ${season}`;
      return `smooth${by}${criterion === 'aicc' ? '' : ` by ${criterion}`}${behind}`;
    }
    case 'croston':
      return `croston${model.factor === undefined ? '' : ` ${model.factor}`}${model.isUncorrected ? ' uncorrected' : ''}${behind}`;
    case 'arima': {
      const { p, d, q, seasonal, lags, hasConstant } = model;
      const season = seasonal ? `(${seasonal.p}, ${seasonal.d}, ${seasonal.q}) season ${seasonal.rows}` : '';
      const gaps = lags ? ` lags ${lags.join(' ')}` : '';
      return `arima(${p}, ${d}, ${q})${season}${gaps}${hasConstant ? '' : ' no constant'}${behind}`;
    }
  }
}

const counted = (count: number, one: string, many: string) =>
  count === 0 ? '' : `${['no', 'one', 'two', 'three', 'four', 'five'][count] ?? count} ${count === 1 ? one : many}`;

/** What a model does, in words. */
export function modelPhrase(model: Model): string {
  switch (model.kind) {
    case 'last':
      return model.season ? `the last season of ${model.season} rows again` : 'the last value';
    case 'mean':
      return model.rows ? `the mean of the last ${model.rows} rows` : 'the mean of all rows';
    case 'drift':
      return 'the mean change of all rows, from the last value on';
    case 'trend':
      return `the straight line through ${model.rows ? `the last ${model.rows}` : 'all'} rows`;
    case 'growth':
      return `the growth over ${model.rows ? `the last ${model.rows}` : 'all'} rows, compounded`;
    case 'average':
      return `the average of ${model.rows} rows, carried on over its own output`;
    case 'ema':
      return 'an exponential average, held constant';
    case 'garch':
      return 'the last value in a band whose variance follows large moves and comes back to its level';
    case 'ewma':
      return 'the last value in a band of the newest volatility, an exponential average of squared returns';
    case 'chosen':
      return `an arima of orders chosen ${model.search === 'all' ? 'among all' : 'step by step'}${model.season ? `, with a season of ${model.season} rows` : ''}`;
    case 'smooth': {
      const season = model.season
        ? `, with a season of ${model.season} rows, ${model.isMultiplied ? 'multiplied' : 'added'}`
        : '';
      return `exponential smoothing of the ${model.trend === 'none' ? 'level' : `level and ${STATES[model.trend]}`}${season}`;
    }
    case 'chosen smooth': {
      const { season } = model;
      const by =
        season === 'cycles'
          ? ', with the season of its strongest cycle'
          : season
            ? `, with a season of ${season} rows`
            : '';
      return `exponential smoothing, its kind chosen by ${CRITERION_NAMES[model.criterion]}${by}`;
    }
    case 'croston':
      return 'the mean size of values above 0 over the mean gap between them';
    case 'arima': {
      const { p, d, q, seasonal, lags } = model;
      const parts = [
        lags ? `values ${lags.join(', ')} back` : counted(p, 'value back', 'values back'),
        counted(d, 'difference', 'differences'),
        counted(q, 'shock', 'shocks'),
        ...(seasonal
          ? [
              counted(seasonal.p, 'season back', 'seasons back'),
              counted(seasonal.d, 'difference by seasons', 'differences by seasons'),
              counted(seasonal.q, 'shock a season back', 'shocks by seasons'),
            ]
          : []),
      ].filter(Boolean);
      return parts.length === 0 ? 'a level and noise' : parts.join(', ');
    }
  }
}

/** `level 0.3, trend 0.1` as weights. */
function weightsIn(text: string): Partial<Weights> {
  const weights: Partial<Weights> = {};
  for (const part of text.split(/, ?/)) {
    const [, name, value] = /^(level|trend|season|damping) (\d*\.?\d+)$/.exec(part) ?? [];
    if (name === undefined)
      throw new ArgumentError('weights', '`level 0.3, trend 0.1, season 0.2, damping 0.9`', `\`${part}\``);
    weights[name as keyof Weights] = Number(value);
  }
  return weights;
}

function whole(name: string, text: string, least: number, most: number): number {
  const value = Number(text);
  if (value >= least && value <= most) return value;
  throw new ArgumentError(name, `a whole number from ${least} to ${most.toLocaleString('en')}`, text);
}

function share(text: string): number {
  const value = Number(text);
  if (value > 0 && value <= 1) return value;
  throw new ArgumentError('factor', 'above 0 and at most 1', text);
}

function decayOf(text: string): number {
  const value = Number(text);
  if (value > 0 && value < 1) return value;
  throw new ArgumentError('decay', 'between 0 and 1', text);
}
