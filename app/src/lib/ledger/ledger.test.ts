import type { Precision } from '@jaunty-ledger/core';
import { describe, expect, it } from 'vitest';
import { firstLedger, newEntry } from '$lib/api/ledgers';
import type { SharedTimes } from '$lib/api/tapes';
import { Evaluation } from '$lib/compute/evaluation';
import { ledgerFor } from './firstLedger';
import { freeInk, placeFor, placeIn } from '$lib/plots/laneModel';
import { foundLedgers } from './ledgerOrder';
import { withKind, withParts } from './rulePhrase';
import { formulaParts, scrubbed } from '$lib/components/scrub';
import { figureText, kindPhrase, parseBarRule, splitEntry } from '@jaunty-ledger/core';

describe('turning a number of a formula', () => {
  it.each([
    ['mean(close, 20 bars)', 12, 3, 'usual', 'mean(close, 23 bars)'],
    ['mean(close, 20 bars)', 12, 3, 'coarse', 'mean(close, 50 bars)'],
    ['mean(close, 20 bars)', 12, -50, 'usual', 'mean(close, 1 bars)'],
    ['ema(close, factor: 0.2)', 19, 1, 'usual', 'ema(close, factor: 0.21)'],
    ['ema(close, factor: 0.2)', 19, 100, 'usual', 'ema(close, factor: 1)'],
    ['ema(close, factor: 0.2)', 19, 1, 'fine', 'ema(close, factor: 0.201)'],
    ['fan = mean(close, [10, 50] bars)', 23, 2, 'usual', 'fan = mean(close, [10, 52] bars)'],
    ['close * 1.5', 8, -1, 'usual', 'close * 1.4'],
    ['close * 1.5', 3, 1, 'usual', 'close * 1.5'],
  ] as const)('%s at %i by %i %s', (text, start, steps, pace, want) =>
    expect(scrubbed(text, start, steps, pace)).toBe(want),
  );

  it('shows the formula as it is written', () => {
    const text = 'fan = mean(close, [10, 50] bars)';
    expect(
      formulaParts(text)
        .map((part) => part.text)
        .join(''),
    ).toBe(text);
  });
});

describe('figures', () => {
  it.each([
    [84.2, 'price', 2, '84.20'],
    [0.0123, 'fraction', 2, '1.23 %'],
    [-0.000123, 'fraction', 2, '−0.0123 %'],
    [12345, 'units', 2, '12,345'],
    [NaN, 'price', 2, '–'],
    [1, 'truth', 2, 'yes'],
    [-0.001, 'price', 2, '0.00'],
  ] as const)('%d as %s', (value, unit, decimals, text) => expect(figureText(value, unit, decimals)).toBe(text));
});

describe('the heading sentence', () => {
  it.each([
    ['15 minutes', '15-minute'],
    ['1 day', 'daily'],
    ['500 trades', '500-trade'],
    ['range 0.25', '0.25-wide range'],
  ])('%s bars are %s bars', (rule, phrase) => expect(kindPhrase(parseBarRule(rule).kind)).toBe(phrase));

  it('changes one option and leaves the others', () => {
    expect(withParts('5 minutes, empty: carry', { allHours: true })).toBe('5 minutes, empty: carry, all hours');
    expect(withParts('5 minutes, empty: carry, all hours', { empty: 'skip' })).toBe('5 minutes, all hours');
  });

  it('drops the options that another kind has no use for', () =>
    expect(withKind('5 minutes, empty: carry, all hours', '500 trades')).toBe('500 trades, all hours'));
});

describe('the ledger that a tape opens with', () => {
  const tape = (
    kind: 'ticks' | 'quotes' | 'bars' | 'series',
    days: number,
    rows: number,
    interval: string | null = null,
    precision: Precision = 'moment',
    sharedTimes: SharedTimes | null = null,
  ) => ({
    sharedTimes,
    name: 'KELP',
    kind,
    interval,
    rows,
    precision,
    from: '2026-01-01T00:00:00Z',
    to: new Date(Date.UTC(2026, 0, 1) + days * 86_400_000).toISOString(),
    columns: {
      ticks: ['time', 'price', 'size'],
      quotes: ['time', 'bid', 'ask'],
      bars: ['time', 'volume'],
      series: ['time', 'price'],
    }[kind],
  });

  it.each([
    ['three months of trades', tape('ticks', 90, 150_000), '15 minutes'],
    ['a busy hour of them', tape('ticks', 1 / 24, 9000), '1 minute'],
    ['three minutes', tape('ticks', 3 / 1440, 3), '1 minute'],
    ['a few seconds', tape('ticks', 4 / 86_400, 90), '1 second'],
    ['a single trade', tape('ticks', 0, 1), '15 minutes'],
    ['trades an hour apart', tape('ticks', 90, 2160), '1 hour'],
    ['dates with several orders each', tape('series', 100, 300, null, 'day'), '1 day, take: sum'],
    ['dates of which some have several', tape('series', 100, 90, null, 'day', 'sum'), '1 day, take: sum'],
    ['those whose mean is chosen', tape('series', 100, 300, null, 'day', 'mean'), '1 day, take: mean'],
    ['those whose last is chosen', tape('series', 100, 300, null, 'day', 'last'), '1 day'],
    ['a bar a row', tape('series', 100, 300, null, 'day', 'record'), '1 trade'],
    ['moments with several', tape('series', 90, 2160, null, 'moment', 'sum'), '1 hour, take: sum'],
    ['dates with one each', tape('series', 100, 101, null, 'day'), '1 day'],
    ['months with several', tape('series', 365, 60, null, 'month'), '1 month, take: sum'],
    ['daily closes without weekends', tape('series', 365, 260), '1 day'],
    ['a value a week', tape('series', 365, 52), '1 week'],
    ['a value a month', tape('series', 3650, 120), '1 month'],
    ['a value a year', tape('series', 36_500, 100), '1 year'],
    ['minutes', tape('bars', 30, 14_400, '1 minute'), '15 minutes'],
    ['records of seven minutes', tape('bars', 30, 2000, '7 minutes'), '7 minutes'],
    ['hours', tape('bars', 30, 240, '1 hour'), '1 hour'],
    ['days', tape('bars', 30, 21, '1 day'), '1 day'],
  ] as const)('%s', (_, given, rule) => expect(ledgerFor(given).body.rule).toBe(rule));

  it('has a lane of volume where there is any, and draws single values as a line', () => {
    const lanesOf = (kind: Parameters<typeof tape>[0]) =>
      ledgerFor(tape(kind, 30, 5000, kind === 'bars' ? '1 minute' : null)).body.lanes.map(({ base, bars }) => [
        base,
        bars,
      ]);
    const [candles, volume] = [
      ['price', 'candles'],
      ['volume', 'candles'],
    ];
    expect(lanesOf('ticks')).toEqual([candles, volume]);
    expect(lanesOf('bars')).toEqual([candles, volume]);
    expect(lanesOf('quotes')).toEqual([candles]);
    expect(lanesOf('series')).toEqual([['price', 'line']]);
  });
});

describe('where a new entry goes', () => {
  const { body } = firstLedger('KELP', '5 minutes');
  it.each([
    ['price', 'price', { laneId: 'price', second: false }],
    ['volume', 'price', { laneId: 'volume', second: true }],
    ['volume', 'units', { laneId: 'volume', second: false }],
    ['price', 'fraction', { laneId: 'price', second: true }],
    [undefined, 'price', { laneId: undefined, second: false }],
  ] as const)('written in lane %s, in %s', (lane, unit, place) => expect(placeIn(body, lane, unit)).toEqual(place));

  it.each([
    ['price', 'price'],
    ['trades', 'volume'],
    ['move', undefined],
  ] as const)('brought from another page, in %s', (unit, laneId) =>
    expect(placeFor(body, unit)).toEqual({ laneId, second: false }),
  );

  it('gets an ink that is free', () => expect(freeInk(body)).toBe(1));
  it('has its name before the equals sign, but not before a comparison', () => {
    expect(splitEntry('fast = ema(close, 5 bars)')).toEqual({
      name: 'fast',
      formula: 'ema(close, 5 bars)',
      formulaAt: 7,
    });
    expect(splitEntry('close == 5').name).toBe('');
  });
});

describe('entries that change', () => {
  const frame = { time: Float64Array.of(0, 1, 2), columns: { close: Float64Array.of(1, 2, 3) } };
  const states = async (evaluation: Evaluation, ...texts: string[]) =>
    (await evaluation.evaluate(texts.map((text, index) => ({ id: String(index), text })))).map(({ state }) => state);

  it('are computed anew with those that use them, and no others', async () => {
    const evaluation = new Evaluation(frame);
    expect(await states(evaluation, 'a = 2 * close', 'b = a + 1', 'c = close')).toEqual(['drawn', 'drawn', 'drawn']);
    expect(await states(evaluation, 'a = 3 * close', 'b = a + 1', 'c = close')).toEqual(['drawn', 'drawn', 'same']);
  });

  it('do not keep the others from being drawn when one is wrong', async () => {
    const evaluation = new Evaluation(frame);
    expect(await states(evaluation, 'a = nonsense', 'b = a + 1', 'c = close')).toEqual(['wrong', 'wrong', 'drawn']);
  });
});

it('ledgers are found by words of their title, tape, bars and formulas, those of the tape first', () => {
  const ledgers = [
    { title: 'Swell', tape: 'SALT', rule: '1 day', formula: 'a = hurst(close, 64 bars)' },
    { title: 'Drift', tape: 'KELP', rule: '5 minutes', formula: 'a = mean(close, 9 bars)' },
    { title: 'Drift of salt', tape: 'REED', rule: '1 hour', formula: 'a = close' },
  ].map(({ title, tape, rule, formula }) => {
    const { body } = firstLedger(tape, rule);
    return { title, body: { ...body, lanes: [{ ...body.lanes[0], entries: [newEntry('a', formula, 0)] }] } };
  });
  const titles = (words: string) => {
    const { own, others } = foundLedgers(ledgers, words, 'KELP');
    return [own, others].map((some) => some.map(({ title }) => title));
  };
  expect(titles('')).toEqual([['Drift'], ['Swell', 'Drift of salt']]);
  expect(titles('salt')).toEqual([[], ['Swell', 'Drift of salt']]);
  expect(titles('HURST day')).toEqual([[], ['Swell']]);
  expect(titles('drift minutes')).toEqual([['Drift'], []]);
});
