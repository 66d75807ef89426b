import { ArgumentError, modelText, parseModel, splitEntry } from '@jaunty-ledger/core';
import { ProjectBody } from '$lib/api/pages';
import { pageAddress } from '$lib/pages/address';

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

const ADDRESS = pageAddress(
  '/project',
  ProjectBody,
  { page: 'project', tape: 'A', bars: '1 day', entry: 'close' },
  { names: { models: 'model', steps: 'step' } },
);

/** What an address asks for; of what it does not say, or says wrongly, what suits the tape. */
export function projectedOf(
  address: URLSearchParams,
  { isOfLogs, ...usual }: Pick<Projected, 'tape' | 'bars'> & { entry?: string; isOfLogs?: boolean },
): Projected {
  const read = ADDRESS.read(address, usual);
  const models = [...new Set(read.models.map(asWritten))];
  return { ...read, models: models.length > 0 ? models : isOfLogs ? ofLogs(USUAL_MODELS) : USUAL_MODELS };
}

/** The other way round; what is usual is left out. @param kept  the number that the page is kept under */
export const addressOf = ADDRESS.write;

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
