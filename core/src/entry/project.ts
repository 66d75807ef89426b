import { ArgumentError, requireWhole } from '../arguments.js';
import { validOf } from '../numeric/deviations.js';
import { accuracy, type AccuracyChoices, type AheadMeasures, type Measures } from '../project/accuracy.js';
import { fitArima as fitArimaModel, type FittedArima } from '../project/arima/arima.js';
import { chooseArima as chooseArimaModel } from '../project/arima/chooseArima.js';
import { modelText, parseModel, type ArimaModel, type Criterion, type Model } from '../project/model.js';
import { ModelRefusal, type Coefficients } from '../project/outlook.js';
import { project as projectModel, projectionOf, type Projection } from '../project/project.js';
import { residualCheck } from '../project/residualCheck.js';

/* Where a column may go: models as text or as fields. Values have any unit; missing ones are left out first. */

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

/** A model in one form, with what is given of it. */
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

/** An arima that values were given to, in the symbols of the definitions. */
export interface ArimaFit {
  model: string;
  /** Values after differencing, and numbers that were fitted, the variance among them. */
  N: number;
  k: number;
  L: number;
  sigma2: number;
  AIC: number;
  AICc: number;
  BIC: number;
  coefficients: Coefficients;
  /** Standard errors of ar, ma, sar, sma and u; NaN where they cannot be worked out, none where coefficients were given. */
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
  if (x.some((value) => !(value > 0))) throw new ModelRefusal('logarithm of a value not above 0');
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

/**
 * What a fit leaves unexplained: autocorrelation, Ljung-Box, Jarque-Bera and ARCH tests of its residuals.
 * @see definitions, section 11
 */
export function residualChecks({ model, residuals }: Pick<ArimaFit, 'model' | 'residuals'>) {
  const { acf, band, ljungBox, jarqueBera, arch } = residualCheck(residuals, parseModel(model) as ArimaModel);
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
 * Backtests models: each is projected from many origins with nothing later seen, and held against the values that came.
 * @param x       n values
 * @param models  the first is what Diebold and Mariano's test compares the others with
 * @throws {ArgumentError} for options that do not go with so many values
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
