import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Unit } from '@jaunty-ledger/core';
import { priceScale, readableTicks } from '$lib/chart/priceScale';
import { axisText } from './axisText';

const WORDS: Record<string, number> = { k: 1e3, m: 1e6, bn: 1e9, tn: 1e12, '%': 0.01 };
/** The value that a figure says. */
function said(text: string): number {
  const [figure, word] = text.replaceAll(',', '').replace(/−/g, '-').split(' ');
  return Number(figure) * (word === undefined ? 1 : WORDS[word]);
}

describe('the figures of an axis', () => {
  const magnitude = fc.integer({ min: -12, max: 13 });
  const axis = fc.record({
    middle: fc
      .tuple(fc.integer({ min: -999, max: 999 }), magnitude)
      .map(([digits, power]) => (digits / 100) * 10 ** power),
    // as a share of the size of the middle: what lies closer is a flat line
    spread: fc.double({ min: 1e-6, max: 3, noNaN: true }),
    heightPx: fc.integer({ min: 44, max: 900 }),
    log: fc.boolean(),
    fromZero: fc.boolean(),
    unit: fc.constantFrom<Unit>('price', 'move', 'units', 'value', 'fraction', 'number'),
  });

  it('are two at least, all different, and say what they stand at, at every height, scale and magnitude', () =>
    fc.assert(
      fc.property(axis, ({ middle, spread, heightPx, unit, ...options }) => {
        const half = Math.max(Math.abs(middle) * spread, 1e-12) / 2;
        const ticks = readableTicks(priceScale([middle - half, middle + half], heightPx, options), heightPx);
        const texts = ticks.map(axisText(unit, ticks));
        expect(ticks.length).toBeGreaterThan(1);
        expect(new Set(texts).size).toBe(ticks.length);
        const size = Math.max(...ticks.map(Math.abs));
        texts.forEach((text, at) => expect(Math.abs(said(text) - ticks[at])).toBeLessThan(size * 1e-9));
      }),
      { numRuns: 3000 },
    ));

  it.each<[Unit, number[], string[]]>([
    ['price', [129, 129.5], ['129.0', '129.5']],
    ['number', [0.6, 0.65], ['0.60', '0.65']],
    ['fraction', [0, 0.0002], ['0.00 %', '0.02 %']],
    ['units', [0, 1000, 2000], ['0', '1 k', '2 k']],
    ['units', [0, 8e9], ['0', '8 bn']],
    ['value', [5e5, 1e6], ['0.5 m', '1.0 m']],
    ['number', [0, 2e-9], ['0', '2e-9']],
    ['move', [-0.02, 0, 0.02], ['−0.02', '0.00', '0.02']],
  ])('in %s at %j are %j', (unit, ticks, texts) => expect(ticks.map(axisText(unit, ticks))).toEqual(texts));

  it('have as many places as somebody has chosen', () => {
    const ticks = [-0.001, 2];
    expect(ticks.map(axisText('price', ticks, 2))).toEqual(['0.00', '2.00']);
  });
});
