import {
  ArgumentError,
  autocorrelation,
  barsToCome,
  chooseArimaModel,
  fitArimaModel,
  explainedBy,
  fitModel,
  fitSmoothingModel,
  chooseSmoothing,
  keepsRows,
  projectionAtValues,
  seasonOf,
  seenBy,
  ModelRefusal,
  modelPhrase,
  modelText,
  parseBarRule,
  parseModel,
  residualCheck,
  rfc3339,
  sharesAhead,
  summary,
  type ArimaModel,
  type Candidate,
  type FittedArima,
  type Model,
} from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import type { ToldFit, ToldModel, ToldProjections, ToldShares } from './work';
import { figure, figures } from '../figures';
import { oneColumn, type OneColumnInput } from '$lib/server/tasks/oneColumn';
import type { TaskKind, Tools } from '$lib/server/tasks/taskKind';

interface ProjectionInput extends OneColumnInput {
  models: string[];
  horizon: number;
  /** The last instant that is seen. */
  origin: number;
  /** A formula that the column is taken as a share of, too. */
  driver?: string;
}

/** Values that are given, to be drawn and to be dragged through. */
const MOST_SHOWN = 3000;
export const MOST_PROJECTED_ROWS = 200_000;
/** Rows ahead at which it is said which way a model goes. */
const WAYS = [5, 20, 50, 100] as const;

/** What models say of rows to come, as JSON. */
export const projection: TaskKind<ProjectionInput> = {
  records: ({ tape, models }) => tape.rows + 300_000 * models.filter((model) => /arima|smooth/i.test(model)).length,
  bars: (input) => input,
  run: async (input, tools) => {
    const { tape, horizon } = input;
    const { frame, calendar, rule, phrase, values } = await oneColumn(input, MOST_PROJECTED_ROWS, tools);
    const models = modelsOf(input.models);
    const { x, time } = validRows(values, frame.time);
    let origin = x.length - 1;
    while (origin >= 0 && time[origin] > input.origin) origin--;
    if (origin < 0) throw refuse('invalid-body', `${tape.name} has no value up to then; choose a later origin.`);
    const rows = Int32Array.from(values.keys()).filter((row) => !Number.isNaN(values[row]));
    const series: Series = { values, rows, x, origin };
    const told: ToldModel[] = [];
    for (const [at, model] of models.entries()) {
      tools.course.goOn(at / models.length);
      told.push(toldModel(series, model, horizon, () => tools.course.goOn()));
    }
    const from = Math.max(0, Math.min(x.length - MOST_SHOWN, origin - 100));
    const known = time.slice(origin + 1, origin + 1 + horizon);
    const last = time[x.length - 1];
    const { start: toCome } = barsToCome(parseBarRule(rule), calendar, last, Math.max(0, horizon - known.length));
    const answer: ToldProjections = {
      ...{ tape: tape.name, rule, phrase, rows: x.length, missing: values.length - x.length, origin, from },
      time: Array.from(time.subarray(from), rfc3339),
      values: figures(x.subarray(from)),
      ahead: [...known, ...toCome].map(rfc3339),
      models: told,
      season: seasonOf(values.subarray(0, rows[origin] + 1)) ?? null,
      ...(input.driver !== undefined && { shares: await toldShares(input, frame.time, values, models, tools) }),
    };
    return new TextEncoder().encode(JSON.stringify(answer));
  },
};

/** @throws {Refusal} for what is no model */
export function modelsOf(texts: readonly string[]): Model[] {
  try {
    return texts.map(parseModel);
  } catch (error) {
    if (!(error instanceof ArgumentError)) throw error;
    throw refuse('invalid-body', error.message, {}, { cause: error });
  }
}

/** The rows that have a value, and their times. */
export function validRows(values: Float64Array, time: Float64Array): { x: Float64Array; time: Float64Array } {
  const isThere = (_: number, row: number) => !Number.isNaN(values[row]);
  return { x: values.filter(isThere), time: time.filter(isThere) };
}

/** A column, the rows of its values, these alone, and the place among them of the last that is seen. */
interface Series {
  values: Float64Array;
  rows: Int32Array;
  x: Float64Array;
  origin: number;
}

function toldModel({ values, rows, x, origin }: Series, model: Model, horizon: number, goOn: () => void): ToldModel {
  const about = { model: modelText(model), phrase: modelPhrase(model) };
  try {
    const seen = keepsRows(model) ? seenBy(model, values.subarray(0, rows[origin] + 1)) : x.slice(0, origin + 1);
    const found = model.kind === 'arima' || model.kind === 'chosen' ? fittedArima(seen, model, goOn) : undefined;
    const smooth =
      model.kind === 'smooth' || model.kind === 'chosen smooth' ? fittedSmoothing(seen, model, goOn) : undefined;
    const fitted = found?.fitted ?? smooth?.fitted ?? fitModel(seen, model);
    const { value, deviation, low80, high80, low95, high95 } = projectionAtValues(
      { ...fitted, isPositive: fitted.isPositive ?? (!smooth && seen.every((one) => one > 0)) },
      model,
      rows,
      origin,
      Math.max(horizon, WAYS[WAYS.length - 1]),
    );
    const last = x[origin];
    const part = (column: Float64Array) => figures(column.subarray(0, horizon));
    return {
      ...about,
      ...{ value: part(value), deviation: part(deviation) },
      isOfLog: model.isOfLogs || fitted.hasLogDeviations === true,
      ...{ low80: part(low80), high80: part(high80), low95: part(low95), high95: part(high95) },
      ways: WAYS.map((ahead) => ({
        ahead,
        value: figure(value[ahead - 1]),
        way: wayOf(value[ahead - 1], low95[ahead - 1], high95[ahead - 1], last),
      })),
      ...(found && { arima: toldArima(found) }),
      ...(smooth && { smoothing: toldSmoothing(smooth) }),
      ...(fitted.moving && {
        garch: {
          a: figure(fitted.moving.a),
          b: figure(fitted.moving.b),
          persistence: figure(fitted.moving.persistence),
          halfLife: figure(fitted.moving.halfLife),
        },
      }),
    };
  } catch (error) {
    if (!(error instanceof ModelRefusal)) throw error;
    const none = { value: [], deviation: [], low80: [], high80: [], low95: [], high95: [] };
    return { ...about, ...none, isOfLog: model.isOfLogs, ways: [], refused: error.message };
  }
}

/** The column and its driver on the rows that are seen. */
async function toldShares(
  input: ProjectionInput,
  time: Float64Array,
  values: Float64Array,
  models: readonly Model[],
  tools: Tools,
): Promise<ToldShares> {
  const { phrase, values: driver } = await oneColumn({ ...input, entry: input.driver! }, MOST_PROJECTED_ROWS, tools);
  const seen = time.filter((at) => at <= input.origin).length;
  const goOn = () => tools.course.goOn();
  const found = sharesAhead(values.subarray(0, seen), driver.subarray(0, seen), models, input.horizon, goOn);
  const texts = models.map(modelText);
  return {
    driver: phrase,
    rows: found.rows,
    outcomes: found.outcomes.map(({ model, driver: other, value, factors }) => ({
      model: texts[model],
      ...(other !== undefined && { driver: texts[other] }),
      value: figure(value),
      ...(factors && { factors: { share: figure(factors.share), driver: figure(factors.driver) } }),
    })),
    quartiles: found.quartiles.map(figure) as ToldShares['quartiles'],
    shares: found.shares.map((one, place) => {
      const model = texts[place];
      if (typeof one === 'string') return { model, refused: one, ...NO_SHARE };
      const { value, forecast, low80, high80, low95, high95 } = one;
      const ends = { low80: figure(low80), high80: figure(high80), low95: figure(low95), high95: figure(high95) };
      return { model, forecast: figure(forecast), value: figure(value), ...ends };
    }),
  };
}

const NO_SHARE = { forecast: null, value: null, low80: null, high80: null, low95: null, high95: null };

function wayOf(value: number, low: number, high: number, last: number): ToldModel['ways'][number]['way'] {
  if (Number.isNaN(low) || Number.isNaN(high)) return 'unknown';
  if (low <= last && last <= high) return 'level';
  return value > last ? 'up' : 'down';
}

interface FoundArima {
  model: ArimaModel;
  fitted: FittedArima;
  candidates?: Candidate[];
}

function fittedArima(x: Float64Array, model: Model & { kind: 'arima' | 'chosen' }, goOn: () => void): FoundArima {
  if (model.isOfLogs && x.some((value) => !(value > 0))) throw new ModelRefusal('logarithm of a value not above 0');
  const own = model.isOfLogs ? x.map(Math.log) : x;
  if (model.kind === 'chosen') return chooseArimaModel(own, { ...model, goOn });
  return { model, fitted: fitArimaModel(own, model, undefined, { goOn, wantsErrors: true }) };
}

/** Lags of residuals that are answered, and points of their plots. */
const MOST_RESIDUAL_LAGS = 200;
const MOST_NORMAL_POINTS = 400;

function toldResiduals(residuals: Float64Array, explained: Parameters<typeof residualCheck>[1]): ToldFit['residuals'] {
  const { ljungBox, jarqueBera, arch, says } = residualCheck(residuals, explained);
  const lags = Math.max(1, Math.min(MOST_RESIDUAL_LAGS, residuals.length - 1));
  const memory = autocorrelation(residuals, lags, explained.parameters);
  const { count, mean, stdev, histogram, normal } = summary(residuals);
  const every = Math.max(1, Math.ceil(normal.values.length / MOST_NORMAL_POINTS));
  const some = (column: Float64Array) => figures(column.filter((_, at) => at % every === 0));
  return {
    values: figures(residuals.subarray(-MOST_SHOWN)),
    summary: { count, mean: figure(mean), stdev: figure(stdev) },
    histogram: { edges: figures(histogram.edges), counts: figures(histogram.counts) },
    normal: { quantiles: some(normal.quantiles), values: some(normal.values) },
    acf: figures(memory.acf),
    pacf: figures(memory.pacf),
    chances: memory.ljungBox.map(({ p }) => figure(p)),
    band: figure(memory.band),
    ljungBox: { ...ljungBox, statistic: figure(ljungBox.statistic), p: figure(ljungBox.p) },
    jarqueBera: { statistic: figure(jarqueBera.statistic), p: figure(jarqueBera.p) },
    arch: { lags: arch.lags, statistic: figure(arch.statistic), p: figure(arch.p) },
    says,
  };
}

function fittedSmoothing(x: Float64Array, model: Model & { kind: 'smooth' | 'chosen smooth' }, goOn: () => void) {
  if (model.isOfLogs && x.some((value) => value <= 0)) throw new ModelRefusal('logarithm of a value not above 0');
  const own = model.isOfLogs ? x.map(Math.log) : x;
  if (model.kind === 'chosen smooth') return chooseSmoothing(own, model, goOn);
  return { fitted: fitSmoothingModel(own, model, {}, goOn), candidates: undefined };
}

function toldSmoothing({ fitted, candidates }: ReturnType<typeof fittedSmoothing>): ToldFit {
  const { model, searched, weights, residuals, parameters } = fitted;
  return {
    orders: modelText(model),
    coefficients: Object.entries(weights).map(([name, value]) => ({
      name: `${name} ${(searched as string[]).includes(name) ? 'weight' : 'weight, given'}`,
      value: figure(value),
      error: null,
    })),
    ...{ count: fitted.count, parameters },
    logLikelihood: figure(fitted.logLikelihood),
    variance: figure(fitted.variance),
    aic: figure(fitted.aic),
    aicc: figure(fitted.aicc),
    bic: figure(fitted.bic),
    residuals: toldResiduals(residuals, { parameters: searched.length, season: model.season }),
    ...(candidates && {
      candidates: candidates
        .map(({ model: one, refused, fitted: own }) => ({
          orders: modelText(one),
          aic: figure(own?.aic ?? NaN),
          aicc: figure(own?.aicc ?? NaN),
          bic: figure(own?.bic ?? NaN),
          passedOver: refused,
        }))
        .sort((a, b) => (a.aicc ?? Infinity) - (b.aicc ?? Infinity)),
    }),
  };
}

function toldArima({ model, fitted, candidates }: FoundArima): ToldFit {
  const { coefficients: c, errors } = fitted;
  const lagsOf = (some: readonly number[], name: string, lags = some.map((_, at) => at + 1)) =>
    lags.map((lag) => ({ name: `${name} ${lag}`, value: some[lag - 1] }));
  const named = [
    ...lagsOf(c.ar, 'AR', model.lags ? [...model.lags] : undefined),
    ...lagsOf(c.ma, 'MA'),
    ...lagsOf(c.sar, 'seasonal AR'),
    ...lagsOf(c.sma, 'seasonal MA'),
    ...(errors.length > c.ma.length + c.sar.length + c.sma.length + (model.lags?.length ?? c.ar.length)
      ? [{ name: 'mean', value: c.u }]
      : []),
  ];
  return {
    orders: modelText(model),
    coefficients: named.map(({ name, value }, at) => ({ name, value: figure(value), error: figure(errors[at]) })),
    count: fitted.count,
    parameters: fitted.parameters,
    logLikelihood: figure(fitted.logLikelihood),
    variance: figure(fitted.variance),
    aic: figure(fitted.aic),
    aicc: figure(fitted.aicc),
    bic: figure(fitted.bic),
    residuals: toldResiduals(fitted.residuals, explainedBy(model)),
    ...(candidates && {
      candidates: candidates.map(({ model: one, aic, aicc, bic, passedOver }) => ({
        orders: modelText(one),
        ...{ aic: figure(aic), aicc: figure(aicc), bic: figure(bic), passedOver },
      })),
    }),
  };
}
