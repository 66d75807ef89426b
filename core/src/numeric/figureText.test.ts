import { describe, expect, it } from 'vitest';
import { figureText, movePercent, seriesFigures } from './figureText.js';

describe('a figure', () => {
  it.each([
    ['an average of whole numbers has one place more', 35.5, 'price', 0, '35.5'],
    ['a whole number has none', 36, 'price', 0, '36'],
    ['a price has those of the data', 171.0312, 'price', 2, '171.03'],
    ['a move that the places of the data say has no more', -0.5, 'move', 2, '−0.50'],
    ['a smaller one shows three digits', -0.0042, 'move', 2, '−0.00420'],
    ['turnover has no hundredths where it is large', 1234567.5, 'value', 2, '1,234,568'],
  ] as const)('%s', (_, value, unit, decimals, text) => expect(figureText(value, unit, decimals)).toBe(text));

  it.each([
    [-0.0004, '0.0 %'],
    [0.0004, '0.0 %'],
    [-0.0126, '−1.3 %'],
    [0.5, '+50.0 %'],
    [NaN, '–'],
  ])('of a move by %d is %s', (share, text) => expect(movePercent(share)).toBe(text));
});

describe('levels of a series', () => {
  it.each([
    [[169, 173.01, 171.5], 171.0312, '171.03'],
    [[3, 0, 12], 4.6667, '4.7'],
    [[1200, 1300], 1250, '1,250'],
    [[1234567.05, 500000000.25], 1234567.05, '1,234,567.05'],
    [[100.35 - 100.3, 0.3 - 0.1], 0.125, '0.13'],
    [[Math.PI, Math.E, 2.9], 2.94, '2.9400'],
    [[], 1.5, '1.5'],
  ])('%j: %d is written %s', (values, value, text) => expect(seriesFigures(values).level(value)).toBe(text));

  it('have distances with as many digits as show them', () =>
    expect(seriesFigures([169, 173.01]).distance(0.00123)).toBe('0.00123'));
});
