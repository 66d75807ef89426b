import {
  accuracy,
  ArgumentError,
  modelText,
  rfc3339,
  type AheadMeasures,
  type Measures,
  type Model,
} from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import type { ToldAccuracy } from '$lib/api/projections';
import { figure } from './figures';
import { oneColumn, type OneColumnInput } from './oneColumn';
import { modelsOf, MOST_PROJECTED_ROWS, validRows } from './projection';
import type { TaskKind } from './taskKind';

interface AccuracyInput extends OneColumnInput {
  models: string[];
  horizon: number;
  first: number | undefined;
  step: number | undefined;
  refit: number | undefined;
  intervals: 'model' | 'errors';
}

/** Origins, and searches of a model's numbers, where nobody says how many. */
const USUAL_ORIGINS = 100;
const USUAL_SEARCHES = 5;

/** How far projections from many origins were from what came, as JSON. */
export const projectionAccuracy: TaskKind<AccuracyInput> = {
  records: ({ tape, models }) => 20 * tape.rows * models.length,
  bars: (input) => input,
  run: async (input, tools) => {
    const { tape, horizon, intervals } = input;
    const { frame, rule, phrase, values } = await oneColumn(input, MOST_PROJECTED_ROWS, tools);
    const models = modelsOf(input.models);
    const { x, time } = validRows(values, frame.time);
    const first = input.first ?? Math.max(0, Math.floor((7 * x.length) / 10) - 1);
    const step = input.step ?? Math.max(1, Math.ceil((x.length - 1 - first) / USUAL_ORIGINS));
    const refit = input.refit ?? Math.max(1, Math.ceil((x.length - 1 - first) / step / USUAL_SEARCHES));
    const goOn = (share: number) => tools.course.goOn(share);
    try {
      const last: Model = { kind: 'last', isOfLogs: false };
      const found = accuracy(x, [last, ...models], { horizon, first, step, refit, intervals, goOn });
      const [base, ...tried] = found.models;
      const { origins } = found;
      const answer: ToldAccuracy = {
        ...{ tape: tape.name, rule, phrase, origins: origins.length, step, scale: figure(found.scale) },
        first: rfc3339(time[origins[0]]),
        last: rfc3339(time[origins[origins.length - 1]]),
        models: tried.map(({ model, refused, ahead, all }) => ({
          model: modelText(model),
          ...(refused && { refused }),
          all: toldMeasures(all),
          ahead: ahead.map((one, at) => ({
            ...toldMeasures(one),
            against: figure(one.rmse / base.ahead[at].rmse),
            dm: figure(one.dm),
            dmp: figure(one.dmp),
          })),
          says: refused ?? judged(model, ahead, base.ahead),
        })),
      };
      return new TextEncoder().encode(JSON.stringify(answer));
    } catch (error) {
      if (!(error instanceof ArgumentError)) throw error;
      throw refuse('invalid-body', error.message, {}, { cause: error });
    }
  },
};

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
  if (Number.isNaN(dmp))
    return `${rows} it cannot be told: there are too few origins, or it says what the last value says.`;
  const share = `${(rmse / base[at].rmse).toFixed(2)} of its error, p ${dmp < 0.001 ? 'below 0.001' : dmp.toFixed(2)} over ${count} origins`;
  if (dmp >= 0.05) return `${rows} no better and no worse than the last value: ${share}.`;
  return dm > 0 ? `${rows} better than the last value: ${share}.` : `${rows} worse than the last value: ${share}.`;
}
