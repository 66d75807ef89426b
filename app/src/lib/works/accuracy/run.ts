import {
  accuracy as backtest,
  ArgumentError,
  backtestPlan,
  modelText,
  rfc3339,
  type AheadMeasures,
  type Measures,
  type Model,
} from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import type { ToldAccuracy } from './work';
import { figure } from '../figures';
import { oneColumn, type OneColumnInput } from '$lib/server/tasks/oneColumn';
import { modelsOf, MOST_PROJECTED_ROWS, validRows } from '../projection/run';
import type { TaskKind } from '$lib/server/tasks/taskKind';

interface AccuracyInput extends OneColumnInput {
  models: string[];
  horizon: number;
  first: number | undefined;
  step: number | undefined;
  refit: number | undefined;
  intervals: 'model' | 'errors';
}

/** Backtests models: forecasts from many origins, each using only earlier data, as JSON. */
export const accuracy: TaskKind<AccuracyInput> = {
  records: ({ tape, models }) => 20 * tape.rows * models.length,
  bars: (input) => input,
  run: async (input, tools) => {
    const { tape } = input;
    const { frame, rule, phrase, values } = await oneColumn(input, MOST_PROJECTED_ROWS, tools);
    const models = modelsOf(input.models);
    const { x, time } = validRows(values, frame.time);
    const usual = choicesOf(input, x.length, LAST);
    try {
      const tried = models.map((model, at) => {
        const goOn = (share: number) => tools.course.goOn((at + share) / models.length);
        const choices = choicesOf(input, x.length, model);
        return { model, choices, found: backtest(values, [LAST, model], { ...choices, goOn }) };
      });
      const origins = tried.flatMap(({ found }) => [found.origins[0], found.origins[found.origins.length - 1]]);
      const answer: ToldAccuracy = {
        ...{ tape: tape.name, rule, phrase, step: usual.step },
        origins: Math.max(...tried.map(({ found }) => found.origins.length)),
        scale: figure(tried[0].found.scale),
        first: rfc3339(time[Math.min(...origins)]),
        last: rfc3339(time[Math.max(...origins)]),
        models: tried.map(({ model, choices, found }) => {
          const [base, { refused, ahead, all }] = found.models;
          return {
            model: modelText(model),
            ...(refused && { refused }),
            origins: found.origins.length,
            step: choices.step,
            searches: Math.ceil(found.origins.length / choices.refit),
            all: toldMeasures(all),
            ahead: ahead.map((one, at) => ({
              ...toldMeasures(one),
              against: figure(one.rmse / base.ahead[at].rmse),
              dm: figure(one.dm),
              dmp: figure(one.dmp),
            })),
            says: refused ?? judged(model, ahead, base.ahead),
          };
        }),
      };
      return new TextEncoder().encode(JSON.stringify(answer));
    } catch (error) {
      if (!(error instanceof ArgumentError)) throw error;
      throw refuse('invalid-body', error.message, {}, { cause: error });
    }
  },
};

/** The baseline of every backtest. */
const LAST: Model = { kind: 'last', isOfLogs: false };

/** What the client chose; without, origins and searches that the model can have within a few seconds. */
function choicesOf({ horizon, intervals, ...chosen }: AccuracyInput, count: number, model: Model) {
  const first = chosen.first ?? Math.max(0, Math.floor((7 * count) / 10) - 1);
  const { origins, searches } = backtestPlan(model, count);
  const step = chosen.step ?? Math.max(1, Math.ceil((count - 1 - first) / origins));
  const refit = chosen.refit ?? Math.max(1, Math.ceil((count - 1 - first) / step / searches));
  return { horizon, intervals, first, step, refit };
}

const toldMeasures = ({ count, rmse, mae, me, mape, zeros, mase, with80, inside80, with95, inside95 }: Measures) => ({
  ...{ count, zeros, with80, with95 },
  rmse: figure(rmse),
  mae: figure(mae),
  me: figure(me),
  mape: figure(mape),
  mase: figure(mase),
  inside80: figure(inside80),
  inside95: figure(inside95),
});

/** How a model does at the farthest row ahead that can be judged. */
function judged(model: Model, ahead: readonly AheadMeasures[], base: readonly AheadMeasures[]): string {
  if (modelText(model) === 'last') return 'The baseline: other models are compared with it.';
  let at = ahead.length - 1;
  while (at > 0 && Number.isNaN(ahead[at].dmp)) at--;
  const { dm, dmp, rmse, count } = ahead[at];
  const rows = `At ${at + 1} ${at === 0 ? 'row' : 'rows'} ahead`;
  if (Number.isNaN(dmp)) return `${rows} no verdict: there are too few origins, or it equals the last value.`;
  const share = `${(rmse / base[at].rmse).toFixed(2)} of its error, p ${dmp < 0.001 ? 'below 0.001' : dmp.toFixed(2)} over ${count} origins`;
  if (dmp >= 0.05) return `${rows} no better and no worse than the last value: ${share}.`;
  return dm > 0 ? `${rows} better than the last value: ${share}.` : `${rows} worse than the last value: ${share}.`;
}
