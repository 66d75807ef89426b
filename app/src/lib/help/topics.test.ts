import { catalogue, commonWordsFor } from '@jaunty-ledger/core';
import { describe, expect, it } from 'vitest';
import { isFound, TOPICS } from './topics';

/** Titles and names that help finds. */
const found = (wanted: string): string[] => [
  ...TOPICS.flatMap(({ topics }) =>
    topics.flatMap(({ title, says, words }) => (isFound(wanted, [title, says, ...words]) ? [title] : [])),
  ),
  ...[...catalogue.values()].flatMap(({ name, sentence, source }) =>
    isFound(wanted, [name, ...commonWordsFor(name), sentence, source]) ? [name] : [],
  ),
];

describe('help finds words of the trade', () => {
  it.each([
    ['moving average', 'mean'],
    ['bollinger', 'bands'],
    ['arima', 'arima'],
    ['stationary', 'Examine a column'],
    ['cagr', 'growth 12'],
    ['alpha', 'ema'],
    ['forecast', 'Forecast a column'],
    ['own function', 'Own functions'],
    ['weekdays', 'Import records'],
    ['exponential smoothing', 'ema 0.3'],
    ['correlation matrix', 'Compare tapes'],
  ])('%s: %s', (wanted, title) => expect(found(wanted)).toContain(title));

  it('and nothing for what there is not', () => expect(found('zebra')).toEqual([]));
});
