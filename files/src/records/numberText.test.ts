import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MISSING, readNumber, readStyledNumber } from './numberText';

describe('a number as files write it', () => {
  it.each<[string, '.' | ',', number]>([
    ['1,234.50', '.', 1234.5],
    ['1.234,50', ',', 1234.5],
    ['1 234,50', ',', 1234.5],
    ['1’234.50', '.', 1234.5],
    ['12,34,567.8', '.', 1234567.8],
    ['$84.20', '.', 84.2],
    ['84,20 €', ',', 84.2],
    ['DKK 84,20', ',', 84.2],
    ['-$1,000', '.', -1000],
    ['(84.20)', '.', -84.2],
    ['84.20-', '.', -84.2],
    ['−84.20', '.', -84.2],
    ['4.5 %', '.', 0.045],
    ['5.4K', '.', 5400],
    ['1.2M', '.', 1_200_000],
    ['3.1bn', '.', 3_100_000_000],
    ['2,5 Mio.', ',', 2_500_000],
    ['7G', '.', 7_000_000_000],
    ['1.5e-3', '.', 0.0015],
  ])('%s with a decimal %s is %d', (text, decimal, value) =>
    expect(readStyledNumber(text, decimal)).toBeCloseTo(value, 9),
  );

  it.each(['12,34', '1,23,4', 'K', '4.5.6', '--3', '1e999'])('is none: %s', (text) =>
    expect(readStyledNumber(text, '.')).toBeNaN(),
  );

  it.each(['.', '-', '--', 'NA', 'n/a', '#N/A', 'null', 'NaN', '?'])('is missing: %s', (text) =>
    expect(MISSING.test(text)).toBe(true),
  );

  it('in plain figures is what the language makes of it', () =>
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
        const bytes = new TextEncoder().encode(String(value));
        expect(readNumber(bytes, 0, bytes.length)).toBe(Number(String(value)));
      }),
    ));
});
