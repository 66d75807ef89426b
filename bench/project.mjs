import { accuracy, chooseArima, fitModel, parseModel, projectionOf } from '../core/dist/index.js';
import { bestOf, standardRandom } from './timing.mjs';

const ROWS = 2000;
const SIMPLE = [
  'last',
  'last season 5',
  'mean',
  'mean 20',
  'drift',
  'trend',
  'trend 60',
  'growth 20',
  'average 20',
  'ema 0.3',
];

const seconds = (milliseconds) => `${(milliseconds / 1000).toFixed(2)} s`;

/** The plain loop that the rolling origin is held against: the last value, its error, and nothing else. */
function plainLast(x, origins, horizon) {
  let sum = 0;
  for (let origin = x.length - 1 - origins; origin < x.length - 1; origin++)
    for (let h = 1; h <= horizon && origin + h < x.length; h++) sum += (x[origin + h] - x[origin]) ** 2;
  return sum;
}

/** Models that are fitted and held against what came, without a page. */
export function projectRows() {
  const random = standardRandom();
  const normal = () => Math.sqrt(-2 * Math.log(random.next().value)) * Math.cos(2 * Math.PI * random.next().value);
  let [change, shock, level] = [0, 0, 100];
  const x = Float64Array.from({ length: ROWS }, () => {
    const e = normal();
    change = 0.5 * change + e + 0.3 * shock;
    shock = e;
    return (level += change);
  });
  const seasons = Float64Array.from({ length: ROWS }, (_, t) => 5 * Math.sin((2 * Math.PI * t) / 12) + x[t] / 5);
  const long = Float64Array.from({ length: 10_000 }, () => (level = Math.max(1, level + normal() / 10)));
  const fit = (values, text) => seconds(bestOf(3, () => fitModel(values, parseModel(text))));
  const models = SIMPLE.map(parseModel);
  const positive = seasons.map((value) => value + 100);
  const chosen = (values) => fitModel(values, parseModel('smooth season 12'));
  const origins = 500;
  const rolling = bestOf(2, () => accuracy(long, models, { horizon: 20, first: long.length - 1 - origins }));
  const plain = bestOf(3, () => plainLast(long, origins, 20));
  const drag = bestOf(5, () => models.map((model) => projectionOf(fitModel(x, model), model, 60)));
  return [
    ['arima(2, 1, 2) on 2,000 values', fit(x, 'arima(2, 1, 2)'), 'asked 0.15 s'],
    ['arima(0, 1, 1)(0, 1, 1), season 12, on 2,000', fit(seasons, 'arima(0, 1, 1)(0, 1, 1) season 12'), 'asked 1.5 s'],
    ['orders chosen step by step on 2,000', seconds(bestOf(2, () => chooseArima(x))), 'asked 3 s'],
    ['smooth trend on 2,000', fit(x, 'smooth trend'), 'asked 0.15 s'],
    ['smooth damped trend season 12 on 2,000', fit(seasons, 'smooth damped trend season 12'), ''],
    ['smooth season 12, the kind chosen, on 2,000', seconds(bestOf(1, () => chosen(positive))), 'asked 2 s'],
    [
      `rolling origin of ${SIMPLE.length} simple models over 10,000 values, ${origins} origins, 20 rows ahead`,
      seconds(rolling),
      `a plain loop of the last value alone ${plain.toFixed(1)} ms; asked 1 s`,
    ],
    [
      'the same models from one origin, as it is dragged',
      `${drag.toFixed(1)} ms`,
      'asked 50 ms until they are painted',
    ],
  ];
}
