import { ArgumentError, modelText, parseModel, splitEntry } from '@jaunty-ledger/core';
import { ProjectBody } from '$lib/api/pages';

export type Projected = ProjectBody;

/** Models to begin with: what all others are held against, and the simplest of each kind. */
export const USUAL_MODELS = ['last', 'drift', 'average 20', 'arima(1, 1, 1)'];
/** An all-positive series that has moved by more than this factor is projected by its logarithm, unless one chooses otherwise. */
const LOG_FACTOR = 1.5;

/** Whether models are of the logarithm at first, by a look at the series. */
export function suitsLogs(spark: readonly number[]): boolean {
  const [min, max] = [Math.min(...spark), Math.max(...spark)];
  return spark.length > 0 && min > 0 && max > LOG_FACTOR * min;
}

const OF_LOG = / of log$/;
/** Models of the values themselves, and of their logarithm. The last value is the same of both. */
export const ofValues = (models: readonly string[]): string[] => models.map((model) => model.replace(OF_LOG, ''));
export const ofLogs = (models: readonly string[]): string[] =>
  ofValues(models).map((model) =>
    ['last', 'garch'].includes(model) || /^(ewma|growth)/.test(model) ? model : `${model} of log`,
  );
export const isOfLogs = (models: readonly string[]): boolean => models.some((model) => OF_LOG.test(model));

const USUAL_HORIZON = 30;
const USUAL_LAGS = 40;
const USUAL_STEPS = ProjectBody.shape.steps.parse(undefined);

/** What an address asks for; of what it does not say, or says wrongly, what suits the tape. */
export function projectedOf(
  address: URLSearchParams,
  usual: Pick<Projected, 'tape' | 'bars'> & { entry?: string; isOfLogs?: boolean },
): Projected {
  const one = <Name extends keyof Projected>(name: Name, value: unknown) =>
    ProjectBody.shape[name].safeParse(value).data as Projected[Name] | undefined;
  const text = <Name extends keyof Projected>(name: Name) => one(name, address.get(name) ?? undefined);
  const number = <Name extends keyof Projected>(name: Name) =>
    one(name, address.has(name) ? Number(address.get(name)) : undefined);
  const models = [...new Set((one('models', address.getAll('model')) ?? []).map(asWritten))];
  return {
    page: 'project',
    tape: text('tape') ?? usual.tape,
    bars: text('bars') ?? usual.bars,
    entry: text('entry') ?? usual.entry ?? 'close',
    uses: address.getAll('uses'),
    from: text('from') ?? '',
    to: text('to') ?? '',
    origin: text('origin') ?? '',
    horizon: number('horizon') ?? USUAL_HORIZON,
    models: models.length > 0 ? models : usual.isOfLogs ? ofLogs(USUAL_MODELS) : USUAL_MODELS,
    focus: number('focus') ?? 0,
    target: number('target') ?? null,
    day: text('day') ?? '',
    steps: address.has('step') ? (one('steps', address.getAll('step').map(Number)) ?? USUAL_STEPS) : USUAL_STEPS,
    driver: text('driver') ?? '',
    lags: number('lags') ?? USUAL_LAGS,
  };
}

/** The other way round; what is usual is left out. @param kept  the number that the page is kept under */
export function addressOf(
  { page: _, tape, bars, entry, uses, models, steps, ...rest }: Projected,
  kept?: number,
): string {
  const address = new URLSearchParams({ tape, bars, entry });
  for (const use of uses) address.append('uses', use);
  for (const model of models) address.append('model', model);
  if (steps.join() !== USUAL_STEPS.join()) for (const step of steps) address.append('step', String(step));
  for (const [name, value] of Object.entries(rest))
    if (
      value !== null &&
      value !== '' &&
      !(name === 'horizon' && value === USUAL_HORIZON) &&
      !(name === 'focus' && value === 0) &&
      !(name === 'lags' && value === USUAL_LAGS)
    )
      address.set(name, String(value));
  if (kept !== undefined) address.set('kept', String(kept));
  return `/project?${address}`;
}

export const PROJECT = { page: 'project', addressOf } as const;

/** A model of it as a formula of a ledger. */
export const projectionFormula = ({ entry, horizon }: Pick<Projected, 'entry' | 'horizon'>, model: string): string =>
  `projection(${splitEntry(entry).formula}, "${model}", ${horizon})`;

/** A model as it is always written; what is none stays, so that it can be said why. */
export function asWritten(model: string): string {
  try {
    return modelText(parseModel(model));
  } catch (error) {
    if (!(error instanceof ArgumentError)) throw error;
    return model;
  }
}
