import { ArgumentError, requireWhole } from '../arguments.js';
import { validOf } from '../numeric/deviations.js';
import { accuracy, type AccuracyChoices, type AheadMeasures, type Measures } from '../project/accuracy.js';
import { fitArima as fitArimaModel, type FittedArima } from '../project/arima/arima.js';
import { chooseArima as chooseArimaModel } from '../project/arima/chooseArima.js';
import { modelText, parseModel, type ArimaModel, type Criterion, type Model } from '../project/model.js';
import { ModelRefusal, type Coefficients } from '../project/outlook.js';
import { project as projectModel, projectionOf, seenBy, type Projection } from '../project/project.js';
import { chooseSmoothing } from '../project/smoothing/chooseSmoothing.js';
import { fitCroston as fitCrostonModel, type FittedCroston } from '../project/smoothing/croston.js';
import { fitSmoothing as fitSmoothingModel, searchedOf, type States } from '../project/smoothing/fitSmoothing.js';
import type { Weights } from '../project/smoothing/recursion.js';
import { explainedBy, residualCheck } from '../project/residualCheck.js';

/* Forecasts of a column: models as text or as fields. Values have any unit; missing ones are NaN. */

export { ModelRefusal, type Coefficients, type Projection };

/** A model by its fields. */
export interface ModelFields {
  model: string;
  /** Rows that it looks back on; of `last` and `arima` the season. */
  rows?: number;
  season?: number;
  /** The factor of `ema`. */
  a?: number;
  of?: 'log';
  order?: readonly [p: number, d: number, q: number];
  seasonal?: readonly [P: number, D: number, Q: number];
  constant?: boolean;
  /** Given, and not fitted. */
  coefficients?: Partial<Coefficients>;
}

export type ModelLike = string | ModelFields | Model;

/** Parses a model, with the coefficients that it gives. */
function understood(model: ModelLike): { model: Model; given?: Coefficients } {
  if (typeof model === 'string') return { model: parseModel(plainText(model)) };
  if ('kind' in model) return { model };
  const { model: name, rows, season, a, of, order, seasonal, constant = true, coefficients: c } = model;
  const behind = of ? ' of log' : '';
  const given = c && { ar: c.ar ?? [], ma: c.ma ?? [], sar: c.sar ?? [], sma: c.sma ?? [], u: c.u ?? 0 };
  if (name === 'arima' && order) {
    const by = seasonal ? `(${seasonal.join(', ')}) season ${season}` : '';
    return { model: parseModel(`arima(${order.join(', ')})${by}${constant ? '' : ' no constant'}${behind}`), given };
  }
  const number = season === undefined ? ` ${rows ?? a ?? ''}`.trimEnd() : ` season ${season}`;
  return { model: parseModel(`${name}${number}${behind}`) };
}

/** `last(season 7)` and `..., of: log` as the notation of models has them. */
const plainText = (text: string): string =>
  text.replace(/^\s*(\w+)\s*\(([^\d(][^()]*)\)/, '$1 $2').replace(/,?\s+of:?\s+(logs?)\s*$/, ' of $1');

/**
 * Projects a column.
 * @param x        n values
 * @param horizon  rows ahead, from 1 to 10,000
 * @returns a value, a deviation and the ends of 80 % and 95 % intervals for each row ahead
 * @throws {ModelRefusal} where the model cannot have these values
 * @throws {ArgumentError} for text or fields that are no model, or a horizon out of its range
 * @see definitions, section 11
 */
export function project(x: Float64Array, model: ModelLike, horizon: number): Projection {
  const { model: own, given } = understood(model);
  if (!given || own.kind !== 'arima') return projectModel(x, own, horizon);
  requireWhole('horizon', horizon, { min: 1, max: 10_000 });
  const values = validOf(x);
  const fitted = fitArimaModel(own.isOfLogs ? logarithms(values) : values, own, given);
  return projectionOf({ ...fitted, isPositive: values.every((value) => value > 0) }, own, horizon);
}

/** Likelihood and criteria, in the symbols of the definitions; NaN where nothing is left to explain. */
interface Criteria {
  /** Numbers that were fitted, the variance among them. */
  k: number;
  L: number;
  sigma2: number;
  AIC: number;
  AICc: number;
  BIC: number;
}

/** A fitted arima. */
export interface ArimaFit extends Criteria {
  model: string;
  /** Values after differencing. */
  N: number;
  coefficients: Coefficients;
  /** Standard errors of ar, ma, sar, sma and u; NaN where they cannot be computed, none where coefficients were given. */
  errors: number[];
  /** One-step errors over their deviations. */
  residuals: Float64Array;
}

const fitOf = (model: ArimaModel, fitted: FittedArima): ArimaFit => ({
  model: modelText(model),
  N: fitted.count,
  k: fitted.parameters,
  L: fitted.logLikelihood,
  sigma2: fitted.variance,
  AIC: fitted.aic,
  AICc: fitted.aicc,
  BIC: fitted.bic,
  coefficients: fitted.coefficients,
  errors: fitted.errors,
  residuals: fitted.residuals,
});

/**
 * Fits an arima by the exact Gaussian likelihood.
 * @param x      n values
 * @param model  of the kind `arima(2, 1, 1)`, as text or fields; coefficients that it gives are taken as they are
 * @throws {ModelRefusal} for too few values, nothing left to explain, or coefficients that are not stationary and invertible
 * @throws {ArgumentError} for another kind of model
 * @see definitions, section 11
 */
export function fitArima(x: Float64Array, model: ModelLike): ArimaFit {
  const { model: own, given } = understood(model);
  if (own.kind !== 'arima') throw new ArgumentError('model', 'an arima of given orders', modelText(own));
  const values = validOf(x);
  return fitOf(own, fitArimaModel(own.isOfLogs ? logarithms(values) : values, own, given, { wantsErrors: !given }));
}

function logarithms(x: Float64Array): Float64Array {
  if (x.some((value) => value <= 0)) throw new ModelRefusal('logarithm of a value not above 0');
  return x.map(Math.log);
}

/**
 * Chooses the orders of an arima and fits it.
 * @param x       n values
 * @param season  rows of a season, from 2; without, none
 * @param search  step by step to better neighbours, or every order
 * @throws {ModelRefusal} where no order can have these values
 * @see definitions, section 11; Hyndman and Khandakar 2008
 */
export function chooseArima(
  x: Float64Array,
  options: { search?: 'stepwise' | 'all'; criterion?: Criterion; season?: number; of?: 'log' } = {},
): ArimaFit & { candidates: { model: string; AIC: number; AICc: number; BIC: number; refused: string }[] } {
  const { search = 'stepwise', criterion = 'aicc', season, of } = options;
  const values = validOf(x);
  const isOfLogs = of === 'log';
  const own = isOfLogs ? logarithms(values) : values;
  const { model, fitted, candidates } = chooseArimaModel(own, { search, criterion, season, isOfLogs });
  return {
    ...fitOf(model, fitted),
    candidates: candidates.map((one) => ({
      model: modelText(one.model),
      AIC: one.aic,
      AICc: one.aicc,
      BIC: one.bic,
      refused: one.passedOver,
    })),
  };
}

/** Fitted exponential smoothing. */
export interface SmoothingFit extends Criteria {
  model: string;
  /** Values. */
  n: number;
  /** Whether nothing is left to explain. */
  exact: boolean;
  /** All weights of the model, given and fitted. */
  found: Partial<Weights>;
  /** States before the first row and behind the last; seasons in the order of the rows that they are for. */
  start: States;
  end: States;
  /** One a row; NaN before the first value and behind the last. */
  fitted: Float64Array;
  /** One-step errors of the rows that have a value. */
  residuals: Float64Array;
  /** Of a chosen kind: all that were tried, and the season, null where no cycle stands out. */
  candidates?: (Omit<Criteria, 'sigma2'> & { model: string; refused: string })[];
  season_found?: number | null;
}

/** Fitted values of the rows from the first value to the last, put on all rows. */
function atRows(x: Float64Array, seen: Float64Array): Float64Array {
  const column = new Float64Array(x.length).fill(NaN);
  column.set(seen, x.findIndex(Number.isFinite));
  return column;
}

/**
 * Fits exponential smoothing by least squares of its one-step errors, or chooses its kind.
 * @param x      n values; missing ones keep their rows
 * @param model  of the kind `smooth trend season 12`, or `smooth` to have the kind chosen
 * @throws {ModelRefusal} where the model cannot have these values
 * @throws {ArgumentError} for another kind of model
 * @see definitions, section 15
 */
export function fitSmoothing(x: Float64Array, model: string): SmoothingFit {
  const { model: own } = understood(model);
  if (own.kind !== 'smooth' && own.kind !== 'chosen smooth')
    throw new ArgumentError('model', 'exponential smoothing', modelText(own));
  const seen = seenBy(own, x);
  const values = own.isOfLogs ? logarithms(seen) : seen;
  const chosen = own.kind === 'chosen smooth' ? chooseSmoothing(values, own) : undefined;
  const found = chosen?.fitted ?? fitSmoothingModel(values, own as Model & { kind: 'smooth' });
  const figures = (one: typeof found) => ({
    k: one.parameters,
    L: one.logLikelihood,
    AIC: one.aic,
    AICc: one.aicc,
    BIC: one.bic,
  });
  return {
    ...figures(found),
    model: modelText(found.model),
    n: found.count,
    sigma2: found.variance,
    exact: found.isExact,
    found: found.weights,
    start: found.start,
    end: found.end,
    fitted: atRows(x, own.isOfLogs ? found.fittedValues.map(Math.exp) : found.fittedValues),
    residuals: found.residuals,
    ...(chosen && {
      candidates: chosen.candidates.map(({ model: one, refused, fitted }) => ({
        ...(fitted ? figures(fitted) : { k: NaN, L: NaN, AIC: NaN, AICc: NaN, BIC: NaN }),
        model: modelText(one),
        refused,
      })),
      season_found: chosen.season ?? null,
    }),
  };
}

/**
 * Fits Croston's method to counts with zeros.
 * @param x      n counts; missing ones are left out first
 * @param model  of the kind `croston`, `croston 0.1` or `croston 0.1 uncorrected`
 * @throws {ModelRefusal} where the model cannot have these values
 * @throws {ArgumentError} for another kind of model
 * @see definitions, section 15; Croston 1972, Syntetos and Boylan 2005
 */
export function fitCroston(
  x: Float64Array,
  model: string,
): Pick<FittedCroston, 'size' | 'gap' | 'residuals'> & { model: string; found: number; fitted: Float64Array } {
  const { model: own } = understood(model);
  if (own.kind !== 'croston') throw new ArgumentError('model', 'croston', modelText(own));
  const { factor, size, gap, fittedValues, residuals } = fitCrostonModel(validOf(x), own);
  return { model: modelText(own), found: factor, size, gap, fitted: fittedValues, residuals };
}

/**
 * What a fit leaves unexplained: autocorrelation, Ljung-Box, Jarque-Bera and ARCH tests of its residuals.
 * @see definitions, section 11
 */
export function residualChecks({ model, residuals }: Pick<ArimaFit, 'model' | 'residuals'>) {
  const own = parseModel(model);
  if (own.kind !== 'arima' && own.kind !== 'smooth')
    throw new ArgumentError('fit', 'that of an arima or of smoothing', model);
  const explained =
    own.kind === 'arima' ? explainedBy(own) : { parameters: searchedOf(own).length, season: own.season };
  const { acf, band, ljungBox, jarqueBera, arch } = residualCheck(residuals, explained);
  return { residuals, acf, band, ljungbox: ljungBox, jarquebera: jarqueBera, arch };
}

/** One model over all origins: a list by rows ahead for each measure. */
export type ModelErrors = { [Measure in keyof AheadMeasures]: number[] } & {
  model: string;
  /** Why it could not be tried; then the lists are empty. */
  refused?: string;
  all: Measures;
  /** What it projects from the last origin. */
  last?: Projection;
};

const MEASURES = [
  'count',
  'me',
  'mae',
  'rmse',
  'mape',
  'zeros',
  'mase',
  'with80',
  'inside80',
  'with95',
  'inside95',
  'dm',
  'dmp',
] as const satisfies (keyof AheadMeasures)[];

/**
 * Backtests models: forecasts from many origins, each using only earlier data, compared with the actual values.
 * @param x       n values
 * @param models  the first is what Diebold and Mariano's test compares the others with
 * @throws {ArgumentError} for options out of the range of n values
 * @see definitions, section 12
 */
export function rollingOrigin(
  x: Float64Array,
  models: readonly ModelLike[],
  options: Omit<AccuracyChoices, 'given' | 'goOn'>,
): { origins: number[]; scale: number; models: ModelErrors[] } {
  const own = models.map(understood);
  const found = accuracy(
    x,
    own.map(({ model }) => model),
    { ...options, given: own.map(({ given }) => given) },
  );
  return {
    ...found,
    models: found.models.map(({ model, ahead, ...rest }) => ({
      ...(Object.fromEntries(MEASURES.map((name) => [name, ahead.map((one) => one[name])])) as {
        [Measure in keyof AheadMeasures]: number[];
      }),
      ...rest,
      model: modelText(model),
    })),
  };
}
