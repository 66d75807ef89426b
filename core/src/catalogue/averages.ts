import { ema, emaByTime, emaFrom, factorOfBars, factorOfHalfLife, type EmaStart } from '../averages/ema.js';
import { emaWorking } from '../working/emaWorking.js';
import { COLUMN_X, type FunctionEntry, type Settings } from './functionEntry.js';
import { unitOfX } from './units.js';
import { stretchPhrase, windowPhrase } from './phrases.js';

/** The three ways to say how fast an exponential average forgets; exactly one is given. */
function decayOf({ window, numbers, stretches }: Settings) {
  if (window?.kind === 'bars')
    return { bars: window.bars, factor: factorOfBars(window.bars), phrase: windowPhrase(window) };
  if (stretches.halflife)
    return { halfLife: stretches.halflife, phrase: `a half-life of ${stretchPhrase(stretches.halflife)}` };
  return { factor: numbers.factor, phrase: `a factor of ${numbers.factor}` };
}

const emaEntry: FunctionEntry = {
  name: 'ema',
  sentence: 'An average in which older values weigh less and less.',
  formula: 'y[t] = a x[t] + (1 - a) y[t - 1], a = 2 / (N + 1)',
  example: 'ema(close, 12 bars)',
  definition: '6. Exponential averages',
  source: 'Holt 1957',
  cost: 'O(1) a row',
  unit: unitOfX,
  phrase: ([x], settings) => `exponential average of ${x} over ${decayOf(settings).phrase}`,
  parameters: [COLUMN_X, { kind: 'window', name: 'over', says: 'its length in bars', required: false }],
  options: {
    factor: { kind: 'number', above: 0, max: 1, says: 'weight of the newest value' },
    halflife: { kind: 'stretch', says: 'after how long a weight has halved' },
    start: { kind: 'word', words: ['first', 'mean', 'weighted'], says: 'what it starts from' },
    from: { kind: 'whole', min: 1, says: 'first valid value that is shown' },
  },
  optionAliases: { alpha: 'factor' },
  refuse: ({ window, numbers, stretches, words }) => {
    const given = [window, numbers.factor, stretches.halflife].filter((way) => way !== undefined);
    if (given.length !== 1)
      return '`ema` needs one of a length such as `12 bars`, `factor: 0.2` or `halflife: 10 bars`';
    if (window && window.kind !== 'bars')
      return '`ema` takes its length in bars; for time write `halflife: 30 minutes`';
    if (words.start === 'mean' && !window) return '`start: mean` needs a length in bars, of which it takes the mean';
    return undefined;
  },
  working: emaWorking,
  carryOn: ([x], settings, values) => {
    const { factor, halfLife } = decayOf(settings);
    if ((halfLife && 'micros' in halfLife) || settings.words.start === 'weighted') return undefined;
    return emaFrom(x, factor ?? factorOfHalfLife(halfLife!.bars), values);
  },
  compute: ([x], settings, { time }) => {
    const { bars, factor, halfLife } = decayOf(settings);
    const start = (settings.words.start ?? 'first') as EmaStart;
    if (halfLife && 'micros' in halfLife) return emaByTime(x, time, halfLife.micros, start);
    const from = settings.numbers.from ?? bars ?? 1;
    return ema(x, { factor: factor ?? factorOfHalfLife(halfLife!.bars), from, start, seed: bars ?? 1 });
  },
};

export const averageFunctions: readonly FunctionEntry[] = [emaEntry];
