import { describe, expect, it } from 'vitest';
import { planEntries } from './plan.js';
import { phraseCompletions, startingEntries, type PhraseContext } from './tradePhrases.js';

const COLUMNS = ['open', 'high', 'low', 'close', 'volume'];
const daily: PhraseContext = {
  ...{ value: 'close', bars: 20, rows: 5000, unit: 'day', hasPrices: true, other: 'SALT.close' },
  names: new Set([...COLUMNS, 'SALT.close']),
};
const monthly: PhraseContext = {
  ...{ value: 'rainfall_mm', bars: 12, rows: 240, unit: 'month', hasPrices: false },
  names: new Set([...COLUMNS, 'rainfall_mm']),
};
const meant = (text: string, context = daily) => phraseCompletions(text, context).map((item) => item.text);
const isEntry = (text: string, { names }: PhraseContext) =>
  planEntries([text], { columns: [...names], others: new Map([['SALT', new Set(['close'])]]) });

it('a phrase in any unit of time is an entry that can be computed, or nothing', () => {
  const phrases = ['moving average', 'ewma', 'wma', 'volatility', 'bollinger', 'slope', 'hurst', 'rsi', 'atr', 'rank'];
  for (const context of [daily, monthly])
    for (const phrase of phrases)
      for (const unit of ['bars', 'd', 'min', 'hours', 'weeks', 'months', 'quarters', 'years'])
        for (const text of meant(`${phrase} 70 ${unit}`, context))
          expect(() => isEntry(text, context), text).not.toThrow();
  expect(meant('ewma 70 hours')).toEqual(['smooth = ema(close, halflife: 70 hours)']);
  expect(meant('ewma 70 months')).toEqual([]);
});

describe('a phrase of the trade', () => {
  it.each([
    ['moving average 3 months', 'average = mean(close, 3 months)'],
    ['20 day volatility', 'vol = volatility(20 bars)'],
    ['12-month moving average', 'average = mean(close, 12 months)'],
    ['50 bar EMA', 'smooth = ema(close, 50 bars)'],
    ['exponential average 3 hours', 'smooth = ema(close, halflife: 3 hours)'],
    ['30 day moving average of volume', 'average = mean(volume, 30 bars)'],
    ['Bollinger bands', 'band = bands(close, 20 bars, 2)'],
    ['% change', 'pct = return(close)'],
    ['hurst 100', 'memory = hurst(logreturn(close), 100 bars)'],
    ['rolling correlation 60 days', 'together = correlation(return(close), return(SALT.close), 60 bars)'],
  ])('%s means %s', (text, wanted) => expect(meant(text)[0]).toBe(wanted));

  it('suits data that are no prices', () => {
    expect(meant('volatility', monthly)).toEqual(['vol = stdev(change(rainfall_mm), 12 bars)']);
    expect(meant('average true range', monthly)).toEqual([]);
    expect(meant('3 month average', monthly)).toEqual(['average = mean(rainfall_mm, 3 bars)']);
    expect(meant('hurst exponent', monthly)).toEqual(['memory = hurst(change(rainfall_mm), 64 bars)']);
  });

  it('is nothing where the text is a formula, a column, or a number', () => {
    for (const text of ['close', 'mean(close, 20 bars)', 'a = close', '20', '0 bar ema', ''])
      expect(meant(text)).toEqual([]);
  });

  it('takes a name that no entry has', () => {
    const names = new Set([...daily.names, 'average', 'average2']);
    expect(meant('moving average', { ...daily, names })[0]).toBe('average3 = mean(close, 20 bars)');
  });
});

it('what an empty line offers, and every phrase of it, is an entry that can be computed', () => {
  for (const context of [daily, monthly]) {
    const items = startingEntries(context);
    expect(items.length).toBeGreaterThan(6);
    for (const { text, says } of items) {
      expect(() => isEntry(text, context), text).not.toThrow();
      if (says !== "another tape's column") expect(meant(says, context)).toContain(text);
    }
  }
});
