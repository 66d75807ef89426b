import { describe, expect, it } from 'vitest';
import { LedgerEntry } from '$lib/api/ledgers';
import type { EntryModel } from './laneModel';
import { readingOf } from './readings';

const column = (...values: number[]) => Float64Array.from(values);
const entry = (columns: [role: 'upper' | 'lower' | 'difference' | undefined, values: Float64Array][], shift = 0) =>
  ({
    entry: LedgerEntry.parse({ id: 'a', text: 'a = close', ink: 0, shift }),
    shift,
    columns: columns.map(([role, values]) => ({ role, values })),
  }) as unknown as EntryModel;

describe('a reading in words', () => {
  const bands = entry([
    [undefined, column(10, 10, 10, 10, 10, NaN)],
    ['upper', column(12, 12, 12, 12, 12, NaN)],
    ['lower', column(8, 8, 8, 8, 8, NaN)],
  ]);
  const close = column(13, 11, 10, 9, 7, 9);
  it.each([
    [0, 'above the bands'],
    [1, 'between the bands, upper half'],
    [2, 'between the bands, in the middle'],
    [3, 'between the bands, lower half'],
    [4, 'below the bands'],
    [5, ''],
    [6, ''],
  ])('of bands at row %d is %j', (row, text) => expect(readingOf(bands, close, row, 'day')).toBe(text));

  const gap = column(NaN, -1, -2, 3, 4, 0, 5);
  it.each([
    [0, ''],
    [1, 'below its signal for 1 day'],
    [2, 'below its signal for 2 days'],
    [4, 'above its signal for 2 days'],
    [5, 'at its signal'],
    [6, 'above its signal for 1 day'],
  ])('of a line and its signal at row %d is %j', (row, text) =>
    expect(
      readingOf(
        entry([
          [undefined, gap],
          ['difference', gap],
        ]),
        close,
        row,
        'day',
      ),
    ).toBe(text),
  );

  it('of an entry that is drawn later is that of where it stands', () =>
    expect(readingOf(entry([['difference', gap]], 2), close, 4, 'moment')).toBe('below its signal for 2 bars'));

  it('is none of an entry of one value', () => expect(readingOf(entry([[undefined, gap]]), close, 4, 'day')).toBe(''));
});
