import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { previewReading } from '../reading/previewReading';
import { readSheet } from './spreadsheet';

const BOUNDS = { growth: 200, mostBytes: 1 << 26 };
const LIMITS = { uploadMegabytes: 100, growth: 200, columns: 256, words: 10_000 };
const REL = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';

/** A number shown as a date: days since the end of 1899. */
const day = (serial: number) => ({ serial });
type Cell = string | number | boolean | { serial: number };

function cellXml(cell: Cell, column: number, row: number): string {
  const at = `${String.fromCharCode(65 + column)}${row + 1}`;
  if (typeof cell === 'object') return `<c r="${at}" s="1"><v>${cell.serial}</v></c>`;
  if (typeof cell === 'boolean') return `<c r="${at}" t="b"><v>${cell ? 1 : 0}</v></c>`;
  if (typeof cell === 'number') return `<c r="${at}"><v>${cell}</v></c>`;
  return `<c r="${at}" t="inlineStr"><is><t>${cell}</t></is></c>`;
}

/** A workbook as programs write it, with the parts that it cannot do without. */
function workbook(sheets: Record<string, Cell[][]>): Uint8Array {
  const names = Object.keys(sheets);
  const parts: Record<string, string> = {
    '[Content_Types].xml': `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`,
    '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${REL}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `<workbook xmlns="${MAIN}" xmlns:r="${REL}"><sheets>${names.map((name, at) => `<sheet name="${name}" sheetId="${at + 1}" r:id="s${at + 1}"/>`).join('')}</sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${names.map((_, at) => `<Relationship Id="s${at + 1}" Type="${REL}/worksheet" Target="worksheets/sheet${at + 1}.xml"/>`).join('')}<Relationship Id="st" Type="${REL}/styles" Target="styles.xml"/></Relationships>`,
    'xl/styles.xml': `<styleSheet xmlns="${MAIN}"><cellXfs count="2"><xf numFmtId="0"/><xf numFmtId="22" applyNumberFormat="1"/></cellXfs></styleSheet>`,
  };
  names.forEach((name, at) => {
    const rows = sheets[name].map(
      (cells, row) => `<row r="${row + 1}">${cells.map((cell, column) => cellXml(cell, column, row)).join('')}</row>`,
    );
    parts[`xl/worksheets/sheet${at + 1}.xml`] =
      `<worksheet xmlns="${MAIN}"><sheetData>${rows.join('')}</sheetData></worksheet>`;
  });
  return zipSync(Object.fromEntries(Object.entries(parts).map(([name, text]) => [name, strToU8(text)])));
}

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
