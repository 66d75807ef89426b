import { describe, expect, it } from 'vitest';
import { previewReading } from '../reading/previewReading';
import { day, workbook } from '../../test/workbook';
import { readSheet } from './spreadsheet';

const BOUNDS = { growth: 200, mostBytes: 1 << 26 };
const LIMITS = { uploadMegabytes: 100, growth: 200, columns: 256, words: 10_000 };
const BOOK = workbook({
  About: [['made up']],
  Closes: [
    ['Tarn Harbour'],
    ['Day', 'Close', 'Open interest'],
    [day(46027), 84.2, 1100],
    [day(46028), 84.35, 1120],
    [day(46029.5), 'n/a', 1130],
  ],
  Years: [
    ['Item', 2019, 2020, 2021],
    ['Kelp landed', 810, '1,020', 990],
    ['Salt "sea", dried', 55.5, '', 60],
  ],
});

const preview = (head: Uint8Array, choices = {}) =>
  previewReading({ head, tail: new Uint8Array(0), choices, calendar: { zone: 'UTC' } }, async () => undefined, LIMITS);
const readIn = ({ columns, first }: Awaited<ReturnType<typeof preview>>) => [columns, ...first.map(({ read }) => read)];

describe('a spreadsheet', () => {
  it('is read from its first sheet of rows, dates and moments as the clock shows them', async () => {
    const { text, sheet, sheets } = await readSheet(BOOK, undefined, BOUNDS);
    expect([sheet, sheets]).toEqual(['Closes', ['About', 'Closes', 'Years']]);
    expect(new TextDecoder().decode(text).split('\n').slice(2, 5)).toEqual([
      '2026-01-05,84.2,1100',
      '2026-01-06,84.35,1120',
      '2026-01-07 12:00:00,n/a,1130',
    ]);
    expect(readIn(await preview(BOOK))).toEqual([
      ['time', 'price', 'Open_interest'],
      ['2026-01-05', '84.2', '1100'],
      ['2026-01-06', '84.35', '1120'],
      null, // no price
    ]);
  });

  it('is read from the sheet that is chosen, turned where its periods stand across', async () => {
    const found = await preview(BOOK, { sheet: 'Years' });
    expect(found.reading).toMatchObject({ format: 'spreadsheet', sheet: 'Years', layout: 'across' });
    expect(readIn(found)).toEqual([
      ['time', 'Kelp_landed', 'Salt_sea_dried'],
      ['2019', '810', '55.5'],
      ['2020', '1020', ''],
      ['2021', '990', '60'],
    ]);
  });

  it('that has no such sheet, is damaged or of another form is refused in words', async () => {
    await expect(preview(BOOK, { sheet: 'Months' })).rejects.toThrow('no sheet Months; it has About, Closes, Years');
    for (const cut of [200, 700, BOOK.length - 30])
      await expect(preview(BOOK.slice(0, cut)), String(cut)).rejects.toThrow(/damaged/);
    const older = Uint8Array.of(0xd0, 0xcf, 0x11, 0xe0, ...new Uint8Array(600));
    await expect(preview(older)).rejects.toThrow('Save it as an Office Open XML workbook');
  });
});
