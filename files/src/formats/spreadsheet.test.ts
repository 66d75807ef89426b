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

  it.each([
    [
      'a cell in the last row and column',
      '<row r="1"><c r="A1"><v>1</v></c><c r="XFD1048576"><v>1</v></c></row>',
      /only 2 of its cells/,
    ],
    ['a cell outside a sheet', '<row r="1"><c r="ZZZZZZZ9999999999"><v>1</v></c></row>', /outside A1 to XFD1048576/],
    ['a row outside a sheet', '<row r="9999999999"><c><v>1</v></c></row>', /outside A1 to XFD1048576/],
    ['entities', '<!ENTITY a "b"><row r="1"></row>', /declares entities/],
    ['rows that do not end', '<row '.repeat(1_000_000), /a tag inside a tag/],
    ['cells that are not closed', '<c>'.repeat(1_000_000), /more than 64 tags inside each other/],
    ['cells that are closed as rows', '<c></row>'.repeat(200_000), /closing tag of row/],
  ])('with %s is refused before a table is made', async (_, rows, words) => {
    const book = workbook(
      { Sheet: [] },
      { 'xl/worksheets/sheet1.xml': `<worksheet><sheetData>${rows}</sheetData></worksheet>` },
    );
    await expect(readSheet(book, undefined, BOUNDS)).rejects.toThrow(words);
  });

  it('whose cells share a long text counts it in each of them', async () => {
    const cells = Array.from(
      { length: 2000 },
      (_, at) => `<row r="${at + 1}"><c r="A${at + 1}" t="s"><v>0</v></c></row>`,
    );
    const book = workbook(
      { Sheet: [] },
      {
        'xl/sharedStrings.xml': `<sst><si><t>${'long '.repeat(20_000)}</t></si></sst>`,
        'xl/worksheets/sheet1.xml': `<worksheet><sheetData>${cells.join('')}</sheetData></worksheet>`,
      },
    );
    await expect(readSheet(book, undefined, BOUNDS)).rejects.toThrow('more than 128 million characters');
  });
});
