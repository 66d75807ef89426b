import { autocorrelation } from '../memory/autocorrelation.js';
import { SHORTEST_HURST } from '../memory/hurst.js';
import { changingVariance } from './changingVariance.js';
import type { Cycles } from './cycles.js';
import type { HurstView } from './hurstViews.js';
import { stationarity, type Stationarity } from './stationarity.js';
import type { Summary } from './summary.js';
import { unitRoot, type UnitRoot } from './unitRoot.js';
import { varianceRatio } from './varianceRatio.js';

/* One question each, its answer in words, and all that it was answered by. */

export const QUESTIONS = [
  'stationary',
  'differences',
  'walk',
  'memory',
  'clusters',
  'past',
  'normal',
  'cycle',
] as const;
export type Question = (typeof QUESTIONS)[number];

export interface Verdict {
  question: Question;
  asks: string;
  /** `yes` and `no` are to the question; `open` where the values do not tell. */
  answer: 'yes' | 'no' | 'open';
  says: string;
  /** Its figures in a line. */
  figures: string;
  /** What it does not say. */
  but: string;
  /** The null hypothesis of the test, in words that go on from its name. */
  supposes: string;
  working: { says: string; value: number }[];
  /** Of the question how many it needs: how many make it stationary. */
  differences?: number;
}

/** What is asked of. */
interface Examined {
  x: Float64Array;
  summary: Summary;
  cycles: Cycles;
  hurst: readonly HurstView[];
  /** Shuffled copies that the exponents were held against. */
  shuffles: number;
  /** Changes of x, or x itself where it is one of changes already. */
  changes: Float64Array;
  /** What they are. */
  kind: 'own' | 'raw' | 'log';
}

/** Weaker swings are not named. */
const LEAST_SHARE = 0.01;

/** Decisions are made at 5 %. */
const LEVEL = 0.05;
/** Fewer swings are the shape of one wandering. */
export const FEWEST_SWINGS = 4;
export const MOST_SHUFFLES = 200;

const OF_CHANGES = {
  own: 'of its values, which are changes: ',
  raw: 'of its changes: ',
  log: 'of its log returns: ',
} as const;

/** All verdicts on a column. @param goOn  called between them; it may throw to stop */
export function verdictsOn(examined: Examined, goOn: (share: number) => void): Verdict[] {
  const { x, changes, kind, summary, cycles } = examined;
  const of = OF_CHANGES[kind];
  goOn(0);
  const root = unitRoot(x);
  const level = stationarity(x);
  const answers = [
    () => stationaryVerdict(root, level),
    () => differencesVerdict(x, root, level, (step) => goOn(0.2 + 0.2 * step)),
    () => walkVerdict(changes, of),
    () => memoryVerdict(examined, of),
    () => clustersVerdict(changes, of),
    () => pastVerdict(x, summary),
    () => normalVerdict(summary),
    () => cycleVerdict(cycles),
  ];
  // the first two tests take most of the time, and so do those of the differences
  return answers.map((answer, at) => {
    goOn(at < 2 ? 0.2 : 0.8 + (0.2 * at) / answers.length);
    return answer();
  });
}

const wanders = ({ p }: UnitRoot) => p >= LEVEL;
const isSteady = ({ statistic, critical }: Stationarity) => statistic < critical.five;

function stationaryVerdict(root: UnitRoot, level: Stationarity): Verdict {
  const verdict = {
    question: 'stationary' as const,
    asks: 'Is it stationary?',
    supposes: 'unit-root test: it has a unit root; stationarity test: it is stationary. The two are opposite.',
    figures: `unit root p ${chance(root.p)} (tau ${figure(root.tau)}, ${root.lags} ${root.lags === 1 ? 'lag' : 'lags'}); stationarity p ${kpssChance(level)} (${figure(level.statistic)})`,
    but: 'A break in the level looks like wandering to both tests.',
    working: [
      { says: 'values', value: root.count },
      { says: 'coefficient of the level before', value: root.coefficient },
      { says: 'its standard error', value: root.error },
      { says: 'tau, the one over the other', value: root.tau },
      { says: 'changes before that are in the regression', value: root.lags },
      { says: 'rows of the regression', value: root.rows },
      { says: 'few are below, at 5 %', value: root.critical.five },
      { says: 'stationarity: its statistic', value: level.statistic },
      { says: 'rows apart in its variance', value: level.lags },
      { says: 'few are above, at 5 %', value: level.critical.five },
    ],
  };
  if (Number.isNaN(root.p) || Number.isNaN(level.statistic)) return { ...verdict, ...untold() };
  if (!wanders(root) && isSteady(level)) return { ...verdict, answer: 'yes', says: 'Yes: it returns to a level.' };
  if (wanders(root) && !isSteady(level))
    return { ...verdict, answer: 'no', says: 'No: it wanders. Look at its change instead.' };
  if (wanders(root))
    return {
      ...verdict,
      answer: 'open',
      says: 'Undecided: neither test rejects. There are too few values, or it reverts only slowly.',
    };
  return {
    ...verdict,
    answer: 'open',
    says: 'The tests disagree: it reverts, but not to one level. It may have long memory, or its level may move.',
  };
}

function differencesVerdict(
  x: Float64Array,
  root: UnitRoot,
  level: Stationarity,
  goOn: (step: number) => void,
): Verdict {
  const MOST = 2;
  const steps = [{ root, level }];
  let column = x;
  while (steps.length <= MOST) {
    const { root: last, level: lastLevel } = steps[steps.length - 1];
    if (Number.isNaN(last.p) || (!wanders(last) && isSteady(lastLevel))) break;
    goOn(steps.length);
    column = column.map((value, row) => (row === 0 ? NaN : value - column[row - 1]));
    steps.push({ root: unitRoot(column), level: stationarity(column) });
  }
  const last = steps[steps.length - 1];
  const count = steps.length - 1;
  const isUntold = Number.isNaN(last.root.p) || Number.isNaN(last.level.statistic);
  const holds = !Number.isNaN(last.root.p) && !wanders(last.root) && isSteady(last.level);
  return {
    question: 'differences',
    asks: 'How many differences does it need?',
    answer: holds ? (count === 0 ? 'no' : 'yes') : 'open',
    says: holds
      ? `${['None: it is stationary untransformed', 'One: its first difference is stationary', 'Two: its second difference is stationary'][count]}.`
      : 'Two are not enough by both tests: something other than a unit root is at work.',
    figures: steps
      .map(
        (step, at) =>
          `${['as it stands', 'its change', 'the change of that'][at]}: p ${chance(step.root.p)} and ${kpssChance(step.level)}`,
      )
      .join('; '),
    but: 'A difference that is not needed brings in memory of its own.',
    supposes: 'as of the question before, tested again after each difference.',
    working: steps.flatMap((step, at) => [
      { says: `after ${at}: tau`, value: step.root.tau },
      { says: `after ${at}: stationarity statistic`, value: step.level.statistic },
    ]),
    ...(holds && { differences: count }),
    ...(isUntold && untold()),
  };
}

function walkVerdict(changes: Float64Array, of: string): Verdict {
  const ratios = [2, 4, 8, 16]
    .map((q) => ({ q, ...varianceRatio(changes, q) }))
    .filter(({ ratio }) => !Number.isNaN(ratio));
  const told = {
    question: 'walk' as const,
    asks: 'Is it a random walk?',
    supposes: 'a random walk: its changes are uncorrelated, though their variance may change.',
    figures: of + ratios.map(({ q, ratio, robustZ }) => `${figure(ratio)} over ${q} (z ${figure(robustZ)})`).join('; '),
    but: 'A walk by this test may still be predicted by something other than its own past.',
    working: ratios.flatMap(({ q, ratio, z, robustZ, robustP }) => [
      { says: `ratio over ${q}`, value: ratio },
      { says: `z over ${q}, if the variance is steady`, value: z },
      { says: `z over ${q}, if it may change`, value: robustZ },
      { says: `chance of that over ${q}`, value: robustP },
    ]),
  };
  if (ratios.length === 0) return { ...told, ...untold() };
  // four are asked at once, so each must be four times as unlikely
  const strongest = ratios.reduce((a, b) => (a.robustP <= b.robustP ? a : b));
  if (!(strongest.robustP * ratios.length < LEVEL))
    return { ...told, answer: 'yes', says: 'It may well be: its changes neither go on nor turn back.' };
  return strongest.ratio > 1
    ? { ...told, answer: 'no', says: `No: its moves go on for a while, most over ${strongest.q} rows.` }
    : { ...told, answer: 'no', says: `No: its moves turn back, most over ${strongest.q} rows.` };
}

function memoryVerdict({ hurst, shuffles }: Examined, of: string): Verdict {
  const told = {
    question: 'memory' as const,
    asks: 'Does it have long memory?',
    supposes: 'no long memory: H = 0.5.',
    but: 'H of a series with a season or a break is not one of memory.',
    figures: '',
    working: [] as Verdict['working'],
  };
  if (hurst.length === 0) return { ...told, ...untold(`${SHORTEST_HURST} changes at least are needed`) };
  const { h, spread, copies } = hurst.find(({ by }) => by === 'dfa')!;
  const [low, high] = shuffles > 0 ? [copies.low, copies.high] : [0.5 - 1.96 * spread, 0.5 + 1.96 * spread];
  const band = shuffles > 0 ? `95 % of ${shuffles} shuffled copies lie` : 'without memory it lies';
  const verdict = {
    ...told,
    figures: `${of}${hurst.map((one) => `${one.by} ${figure(one.h)} ± ${figure(one.spread)}`).join(', ')}; ${band} between ${figure(low)} and ${figure(high)}`,
    working: [
      ...hurst.flatMap((one) => [
        { says: `H by ${one.by}`, value: one.h },
        { says: 'the standard deviation of such an estimate', value: one.spread },
        { says: 'the standard error of its line', value: one.error },
      ]),
      { says: `lower end of where ${band}`, value: low },
      { says: 'its upper end', value: high },
    ],
  };
  if (Number.isNaN(h)) return { ...verdict, ...untold() };
  if (h > high)
    return {
      ...verdict,
      answer: 'yes',
      says: `Yes: moves are followed by their like. H ${figure(h)} ± ${figure(spread)}.`,
    };
  if (h < low)
    return {
      ...verdict,
      answer: 'yes',
      says: `Yes: moves are followed by their opposite. H ${figure(h)} ± ${figure(spread)}.`,
    };
  return {
    ...verdict,
    answer: 'no',
    says: `No: the same changes in any order give such an H. H ${figure(h)} ± ${figure(spread)}.`,
  };
}

function clustersVerdict(changes: Float64Array, of: string): Verdict {
  const LAGS = 5;
  const { statistic, degrees, p, rows } = changingVariance(changes, LAGS);
  const told = {
    question: 'clusters' as const,
    asks: 'Does volatility cluster?',
    supposes: 'constant variance (no ARCH effect).',
    figures: `${of}p ${chance(p)} over ${LAGS} rows (statistic ${figure(statistic)})`,
    but: 'It does not predict the direction of the next large move.',
    working: [
      { says: 'rows', value: rows },
      { says: 'statistic, rows × R²', value: statistic },
      { says: 'degrees of freedom', value: degrees },
      { says: 'chance of as much', value: p },
    ],
  };
  if (Number.isNaN(p)) return { ...told, ...untold() };
  return p < LEVEL
    ? { ...told, answer: 'yes', says: 'Yes: large moves come together.' }
    : { ...told, answer: 'no', says: 'No: large moves come at any time.' };
}

function pastVerdict(x: Float64Array, { count, stdev }: Summary): Verdict {
  const lags = Math.min(10, Math.floor(count / 5));
  const told = {
    question: 'past' as const,
    asks: 'Is it autocorrelated?',
    supposes: 'no autocorrelation at any of the lags tested.',
    figures: '',
    but: 'The autocorrelation plot shows which lags are significant.',
    working: [] as Verdict['working'],
  };
  if (lags < 1 || !(stdev > 0)) return { ...told, ...untold() };
  const { acf, ljungBox } = autocorrelation(x, lags);
  const { statistic, p } = ljungBox[lags - 1];
  const verdict = {
    ...told,
    figures: `Ljung-Box p ${chance(p)} over ${lags} lags (${figure(statistic)}); lag 1 is ${figure(acf[1])}`,
    working: [
      ...Array.from(acf.subarray(1), (value, lag) => ({ says: `correlation at lag ${lag + 1}`, value })),
      { says: 'statistic', value: statistic },
      { says: 'chance of as much', value: p },
    ],
  };
  return p < LEVEL
    ? { ...verdict, answer: 'yes', says: 'Yes: its present value predicts later ones.' }
    : { ...verdict, answer: 'no', says: 'No: nothing stands out.' };
}

function normalVerdict(summary: Summary): Verdict {
  const { jarqueBera, skewness, kurtosis, stdev, mean, min: least, max: greatest, count } = summary;
  const farthest = Math.max(Math.abs(least - mean), Math.abs(greatest - mean)) / stdev;
  const told = {
    question: 'normal' as const,
    asks: 'Is it normal?',
    supposes: 'a normal distribution.',
    figures: `Jarque-Bera p ${chance(jarqueBera.p)}; skewness ${figure(skewness)}, excess kurtosis ${figure(kurtosis)}, the farthest at ${figure(farthest)} deviations`,
    but: 'Of values that depend on their past, this test rejects too often.',
    working: [
      { says: 'values', value: count },
      { says: 'skewness', value: skewness },
      { says: 'excess kurtosis', value: kurtosis },
      { says: 'statistic', value: jarqueBera.statistic },
      { says: 'chance of as much', value: jarqueBera.p },
    ],
  };
  if (Number.isNaN(jarqueBera.p) || count < 8) return { ...told, ...untold() };
  if (jarqueBera.p >= LEVEL) return { ...told, answer: 'yes', says: 'It may well be.' };
  return {
    ...told,
    answer: 'no',
    says:
      kurtosis > 1 ? 'No: far values come too often.' : Math.abs(skewness) > 0.5 ? 'No: it leans to one side.' : 'No.',
  };
}

function cycleVerdict({ peaks, count }: Cycles): Verdict {
  const told = {
    question: 'cycle' as const,
    asks: 'Does it have a cycle?',
    supposes: 'white noise without a cycle. A series that wanders seems to have a very long one.',
    figures: peaks
      .map(({ period, share, p }) => `${figure(period)} rows ${(100 * share).toFixed(0)} % (p ${chance(p)})`)
      .join('; '),
    but: 'A cycle of the past need not go on.',
    working: peaks.flatMap(({ j, period, share, p }) => [
      { says: `${j} swings over all rows: rows of one`, value: period },
      { says: 'its share of variance', value: share },
      { says: 'chance of as much in noise', value: p },
    ]),
  };
  if (peaks.length === 0) return { ...told, ...untold() };
  const sure = peaks.filter(({ p, share }) => p < LEVEL && share >= LEAST_SHARE);
  if (sure.length === 0) return { ...told, answer: 'no', says: 'No: no length stands out.' };
  const [first] = sure;
  if (first.j < FEWEST_SWINGS)
    return {
      ...told,
      answer: 'open',
      says: `Undecided: the strongest cycle, of ${figure(first.period)} of ${count} rows, is as long as a drift.`,
    };
  const named = sure.filter(({ j }) => j >= FEWEST_SWINGS).map(({ period }) => figure(period));
  return { ...told, answer: 'yes', says: `Yes: ${named.join(', ')} rows.` };
}

/** There is nothing to answer by, so no figures either. */
const untold = (why = 'there are too few values, or they do not differ') => ({
  answer: 'open' as const,
  says: `It cannot be told: ${why}.`,
  figures: '',
  working: [],
});

const figure = (value: number): string =>
  Number.isNaN(value) ? 'missing' : String(Number(value.toPrecision(3))).replace('-', '−');
const chance = (p: number): string =>
  Number.isNaN(p) ? 'missing' : p < 0.001 ? 'below 0.001' : String(Number(p.toPrecision(2)));
const kpssChance = ({ p, beyond }: Stationarity): string => beyond ?? chance(p);
