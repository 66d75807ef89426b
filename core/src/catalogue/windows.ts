import { rollingMean, rollingSum } from '../windows/rollingSum.js';
import { rollingStdev, rollingVariance } from '../windows/rollingVariance.js';
import type { Window } from '../windows/window.js';
import { unitOfX, type FunctionEntry, type OptionRule, type Settings, type Unit } from './functionEntry.js';
import { windowPhrase } from './phrases.js';

/** Options that every window takes. */
const WINDOW_OPTIONS = {
  from: { kind: 'whole', min: 1, says: 'fewest valid values that give a result' },
  skip: { kind: 'whole', min: 0, says: 'rows that the window is moved back; 1 leaves the current row out' },
  placed: {
    kind: 'word',
    words: ['behind', 'centre', 'ahead'],
    says: 'where the window lies about its row (bars only)',
  },
} as const satisfies Record<string, OptionRule>;

const DIVISOR: OptionRule = { kind: 'word', words: ['m-1', 'm'], says: 'what the squares are divided by' };

/** `from` if given, else the length of a window by bars, else 1; never fewer than the formula needs. */
function leastValid({ window, numbers }: Settings, needed: number): number {
  const usual = window!.kind === 'bars' ? window!.bars : 1;
  return Math.max(needed, numbers.from ?? usual);
}

function peeks(window: Window): boolean {
  return window.kind === 'bars' && window.placed !== 'behind' && window.bars > 1;
}

function refuseFrom({ window, numbers }: Settings): string | undefined {
  if (window!.kind !== 'bars' || !(numbers.from > window!.bars)) return undefined;
  return `\`from\` is at most the ${window!.bars} bars of the window, got ${numbers.from}`;
}

/** What the aggregates of one column over a window have in common. */
function aggregate(
  entry: Pick<FunctionEntry, 'name' | 'sentence' | 'formula' | 'source' | 'compute'> & {
    unit?: (units: readonly Unit[]) => Unit;
    options?: Record<string, OptionRule>;
  },
): FunctionEntry {
  return {
    unit: unitOfX,
    phrase: ([x], { window }) => `${entry.name} of ${x} over ${windowPhrase(window!)}`,
    example: `${entry.name}(close, 20 bars)`,
    definition: '4. Windows',
    cost: 'O(1) a row, whatever the window',
    parameters: [
      { kind: 'column', name: 'x', says: 'the values' },
      { kind: 'window', name: 'over', says: 'which rows', required: true },
    ],
    refuse: refuseFrom,
    looksAhead: ({ window }) => peeks(window!),
    ...entry,
    options: { ...WINDOW_OPTIONS, ...entry.options },
  };
}

const divisorOf = ({ words }: Settings) => ({ divisor: words.divisor === 'm' ? ('m' as const) : ('m-1' as const) });

export const windowFunctions: readonly FunctionEntry[] = [
  aggregate({
    name: 'mean',
    sentence: 'The sum of the valid values in the window over their number.',
    formula: 'sum / m',
    source: 'arithmetic; sums after Ogita, Rump and Oishi 2005',
    compute: ([x], settings, rows) => rollingMean(x, settings.window!, leastValid(settings, 1), rows),
  }),
  aggregate({
    name: 'sum',
    sentence: 'The sum of the valid values in the window.',
    formula: 'x1 + … + xm',
    source: 'arithmetic; sums after Ogita, Rump and Oishi 2005',
    compute: ([x], settings, rows) => rollingSum(x, settings.window!, leastValid(settings, 1), rows),
  }),
  aggregate({
    name: 'stdev',
    sentence: 'How far the values in the window lie from their mean, as the root of the mean square.',
    formula: 'sqrt(sum of (x - mean)^2 / (m - 1))',
    source: 'Chan, Golub and LeVeque 1983',
    options: { divisor: DIVISOR },
    compute: ([x], settings, rows) =>
      rollingStdev(x, settings.window!, leastValid(settings, 2), divisorOf(settings), rows),
  }),
  aggregate({
    name: 'variance',
    sentence: 'The mean square of the distances from the mean of the window.',
    formula: 'sum of (x - mean)^2 / (m - 1)',
    source: 'Chan, Golub and LeVeque 1983',
    unit: () => 'number',
    options: { divisor: DIVISOR },
    compute: ([x], settings, rows) =>
      rollingVariance(x, settings.window!, leastValid(settings, 2), divisorOf(settings), rows),
  }),
];
