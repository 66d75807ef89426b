import fc from 'fast-check';
import { expect, it } from 'vitest';
import { evenPlaces } from './evenPlaces';

it.each([
  [
    ['84', '83.9', '-0.25'],
    ['84.00', '83.90', '-0.25'],
  ],
  [
    ['400', '12'],
    ['400', '12'],
  ],
  [
    ['2026-03-02T08:30:45Z', '2026-03-02T08:30:45.07Z'],
    ['2026-03-02T08:30:45.00Z', '2026-03-02T08:30:45.07Z'],
  ],
  [
    ['North', '1e-7', '', '1.5'],
    ['North', '1e-7', '', '1.5'],
  ],
])('%j stand under one another as %j', (texts, even) => expect(evenPlaces(texts)).toEqual(even));

it('says the same numbers as before', () =>
  fc.assert(
    fc.property(fc.array(fc.double({ noNaN: true })), (numbers) => {
      expect(evenPlaces(numbers.map(String)).map(Number)).toEqual(numbers.map((x) => Number(String(x))));
    }),
  ));
