import { HURST_METHODS, rollingHurst, SHORTEST_HURST, type HurstMethod } from '../memory/hurst.js';
import { ESTIMATORS, varianceOf, type Estimator } from '../volatility/volatility.js';
import { reachOfWindow } from '../windows/window.js';
import { hurstWorking } from '../working/hurstWorking.js';
import { COLUMN_X, type FunctionEntry, type BarFrequency, type Settings } from './functionEntry.js';
import { windowPhrase } from './phrases.js';

const volatility: FunctionEntry = {
  name: 'volatility',
  sentence: 'The standard deviation of the log price, a bar, a day or a year, by one of six estimators.',
  remark:
    'Bars a day and days a year come from the session and the calendar of the tape; `barsperday` and `daysperyear` say otherwise.',
  formula: 'sqrt(v P), v the variance per bar, P the bars per year',
  example: 'volatility(20 bars, by: parkinson)',
  definition: '8. Volatility',
  source: 'Parkinson 1980, Garman and Klass 1980, Rogers and Satchell 1991, Yang and Zhang 2000',
  cost: 'O(1) a row, whatever the window',
  unit: () => 'fraction',
  phrase: (_, { window, words }) =>
    `volatility per ${words.per ?? 'year'} by ${words.by ?? 'close'}${window ? ` over ${windowPhrase(window)}` : ''}`,
  parameters: [{ kind: 'window', name: 'over', says: 'the length in bars', required: false }],
  options: {
    by: { kind: 'word', words: ESTIMATORS, says: 'the estimator; `ewma` takes no length' },
    per: { kind: 'word', words: ['bar', 'day', 'year'], says: 'what it is carried over to; a year if not given' },
    factor: { kind: 'number', above: 0, max: 1, says: 'share that `ewma` keeps of its variance, 0.94 if not given' },
    barsperday: { kind: 'number', above: 0, max: 1e6, says: 'bars in a trading day' },
    daysperyear: { kind: 'number', above: 0, max: 366, says: 'trading days in a year' },
  },
  reads: ['open', 'high', 'low', 'close'],
  refuse: ({ window, words, numbers }) => {
    if (words.by === 'ewma') return window ? '`by: ewma` takes no length; it takes `factor`' : undefined;
    if (window?.kind !== 'bars') return '`volatility` needs a length in bars, such as `20 bars`';
    if (window.bars < 2) return '`volatility` needs 2 bars or more';
    return numbers.factor === undefined ? undefined : '`factor` goes with `by: ewma` only';
  },
  compute: ([open, high, low, close], { window, words, numbers }, rows) => {
    const by = (words.by ?? 'close') as Estimator;
    const bars = window?.kind === 'bars' ? window.bars : 2;
    const out = varianceOf({ open, high, low, close }, by, bars, numbers.factor);
    const periods = periodsOf({ numbers, words }, rows.barFrequency);
    for (let t = 0; t < out.length; t++) out[t] = Math.sqrt(Math.max(0, out[t]) * periods);
    return out;
  },
};

/** Bars in the stretch that a volatility is carried over to. */
function periodsOf({ numbers, words }: Pick<Settings, 'numbers' | 'words'>, barFrequency: () => BarFrequency): number {
  const per = words.per ?? 'year';
  if (per === 'bar') return 1;
  const barsPerDay = numbers.barsperday ?? barFrequency().barsPerDay;
  return per === 'day' ? barsPerDay : barsPerDay * (numbers.daysperyear ?? barFrequency().daysPerYear);
}

const hurstFrom: NonNullable<FunctionEntry['computeFrom']> = ([x], { window, words }, first, progress) => {
  const bars = window?.kind === 'bars' ? window.bars : NaN;
  const { hurst, error, spread, rsquared } = rollingHurst(x, bars, (words.by ?? 'dfa') as HurstMethod, progress, first);
  return [hurst, error, rsquared, spread];
};

const hurst: FunctionEntry = {
  name: 'hurst',
  sentence: 'The memory of returns: 0.5 has none, above it they persist, below it they turn back.',
  remark:
    '`rs` reads about 0.045 low at a true 0.7 and 0.11 low at 0.9. Its R squared is that of the corrected fit and lies near 0 where there is no memory: that is no bad fit.',
  formula: 'slope of the logarithm of a spread on that of the size it is taken over',
  example: 'hurst(logreturn(close), 256 bars, by: dfa)',
  definition: '9. Hurst exponent',
  source: 'Hurst 1951, Anis and Lloyd 1976; Peng et al. 1994, Kantelhardt et al. 2002',
  cost: '`variance` O(log W), `rs` and `dfa` O(W) a row',
  unit: () => 'number',
  phrase: ([x], { window, words }) => `Hurst exponent of ${x} over ${windowPhrase(window!)} by ${words.by ?? 'dfa'}`,
  parameters: [
    { ...COLUMN_X, says: 'returns, not prices' },
    { kind: 'window', name: 'over', says: `the length in bars, ${SHORTEST_HURST} or more`, required: true },
  ],
  options: {
    by: { kind: 'word', words: HURST_METHODS, says: 'rescaled range, detrended fluctuation, or variance of moves' },
  },
  parts: [
    { name: 'value', says: 'the exponent', drawn: true },
    { name: 'error', says: 'the standard error of its line', drawn: false },
    { name: 'rsquared', says: 'the share of the spread that the fitted line explains', drawn: false },
    { name: 'spread', says: 'the standard deviation of such an estimate, about three times its error', drawn: false },
  ],
  refuse: ({ window }) =>
    window?.kind === 'bars' && window.bars >= SHORTEST_HURST
      ? undefined
      : `\`hurst\` needs a length of ${SHORTEST_HURST} bars or more, such as \`256 bars\``,
  reach: ({ window }) => reachOfWindow(window!),
  working: hurstWorking,
  compute: (columns, settings, { progress }) => hurstFrom(columns, settings, 0, progress),
  computeFrom: hurstFrom,
};

export const memoryFunctions: readonly FunctionEntry[] = [volatility, hurst];
