import { reachOfWindow } from '../windows/window.js';
import { averageTrueRange, bands, macd, relativeStrength, trueRange } from '../trade/trade.js';
import { leastValid, WINDOW } from './aggregates.js';
import { COLUMN_X, type FunctionEntry, type Parameter, type Settings } from './functionEntry.js';
import { moveOfX, unitOfX } from './units.js';
import { windowPhrase } from './phrases.js';

const DEFINITION = '7. Trade measures';
const COST = 'O(1) a row, whatever the length';

const move = () => 'move' as const;
const BARS: Parameter = { kind: 'window', name: 'over', says: 'the length in bars', required: true };
const READS = ['high', 'low', 'close'] as const;

const barsOf = ({ window }: Settings): number => (window?.kind === 'bars' ? window.bars : NaN);

const refuseOtherThanBars =
  (name: string) =>
  ({ window }: Settings): string | undefined =>
    window?.kind === 'bars' ? undefined : `\`${name}\` takes its length in bars, such as \`14 bars\``;

const count = (name: string, says: string, usual: number): Parameter => ({
  kind: 'number',
  name,
  says,
  above: 0,
  max: 1e7,
  whole: true,
  default: usual,
});

export const tradeFunctions: readonly FunctionEntry[] = [
  {
    name: 'bands',
    sentence: 'The mean, and lines some standard deviations above and below it.',
    formula: 'mean ± k s, s with divisor m',
    example: 'bands(close, 20 bars, 2)',
    definition: DEFINITION,
    source: 'trade usage',
    cost: COST,
    unit: unitOfX,
    phrase: ([x], { window, numbers }) => `mean of ${x} over ${windowPhrase(window!)}, ± ${numbers.k} deviations`,
    parameters: [
      COLUMN_X,
      WINDOW,
      { kind: 'number', name: 'k', says: 'how many deviations', above: 0, max: 1000, default: 2 },
    ],
    options: { from: { kind: 'whole', min: 1, says: 'fewest valid values that give a result' } },
    parts: [
      { name: 'mid', says: 'the mean', drawn: true },
      { name: 'upper', says: 'the line above', drawn: true, role: 'upper' },
      { name: 'lower', says: 'the line below', drawn: true, role: 'lower' },
    ],
    reach: ({ window }) => reachOfWindow(window!),
    compute: ([x], settings, rows) => {
      const { mid, upper, lower } = bands(x, settings.numbers.k, settings.window!, leastValid(settings, 2), rows);
      return [mid, upper, lower];
    },
  },
  {
    name: 'macd',
    sentence: 'A fast exponential average less a slow one, the average of that, and the gap between the two.',
    formula: 'line = ema fast - ema slow, signal = ema of line, gap = line - signal',
    example: 'macd(close, 12, 26, 9)',
    definition: DEFINITION,
    source: 'trade usage',
    cost: COST,
    unit: moveOfX,
    phrase: ([x], { numbers: { fast, slow } }) => `average of ${x} over ${fast} bars less that over ${slow}`,
    parameters: [
      COLUMN_X,
      count('fast', 'length of the fast average in bars', 12),
      count('slow', 'length of the slow one', 26),
      count('signal', 'length of the average of their difference', 9),
    ],
    options: {},
    parts: [
      { name: 'line', says: 'the fast average less the slow one', drawn: true },
      { name: 'signal', says: 'the average of the line', drawn: true },
      { name: 'gap', says: 'the line less the signal', drawn: true, role: 'difference' },
    ],
    compute: ([x], { numbers }) => {
      const { line, signal, gap } = macd(x, numbers.fast, numbers.slow, numbers.signal);
      return [line, signal, gap];
    },
  },
  {
    name: 'truerange',
    sentence: 'How far the price went in a bar, from the close before on.',
    formula: 'max(high, close before) - min(low, close before)',
    example: 'truerange()',
    definition: DEFINITION,
    source: 'trade usage',
    cost: 'O(1) a row',
    unit: move,
    phrase: () => 'true range from the close before',
    parameters: [],
    options: {},
    reads: READS,
    reach: () => ({ before: 1, after: 0 }),
    compute: ([high, low, close]) => trueRange({ high, low, close }),
  },
  {
    name: 'atr',
    sentence: 'The average of the true range, in which the newest weighs 1/N.',
    formula: 'y = y before + (truerange - y before) / N, seeded by the mean of the first N',
    example: 'atr(14 bars)',
    definition: DEFINITION,
    source: 'trade usage',
    cost: COST,
    unit: move,
    phrase: (_, { window }) => `average true range from the close before, over ${windowPhrase(window!)}`,
    parameters: [BARS],
    options: {},
    reads: READS,
    refuse: refuseOtherThanBars('atr'),
    compute: ([high, low, close], settings) => averageTrueRange({ high, low, close }, barsOf(settings)),
  },
  {
    name: 'rsi',
    sentence: 'The strength of the rises beside that of the falls, 0 to 100.',
    formula: '100 - 100 / (1 + U / D), U and D averages of rises and falls with weight 1/N',
    example: 'rsi(close, 14 bars)',
    definition: DEFINITION,
    source: 'trade usage',
    cost: COST,
    unit: () => 'number',
    phrase: ([x], { window }) => `relative strength of the rises of ${x} over ${windowPhrase(window!)}`,
    parameters: [COLUMN_X, BARS],
    options: {},
    refuse: refuseOtherThanBars('rsi'),
    compute: ([x], settings) => relativeStrength(x, barsOf(settings)),
  },
];
