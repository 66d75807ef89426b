import { FileError } from '../fileError.js';

/* What the parts of a workbook would grow to, counted before a table is made of them: a cell in the last row and column of a
   sheet makes a table of 17 thousand million cells, and a long text may be used in any number of cells. */

const MAX_ROW = 1_048_576;
const MAX_COLUMN = 16_384;
/** Cells of the used area of a sheet. A sparse one may have some times as many as are filled. */
const SMALL_AREA = 1_000_000;
const AREA_PER_CELL = 20;
/** Characters of all cells, texts that several cells share counted in each. */
const MAX_CHARACTERS = 128 << 20;

const CELL = /<(?:\w+:)?c(?=[\s/>])([^>]*)>(?:<(?:\w+:)?v>(\d{1,9})<)?/g;
const ROW = /<(?:\w+:)?row\s[^>]*?\br\s*=\s*["']([^"']*)["']/g;
const REFERENCE = /\br\s*=\s*["']([^"']*)["']/;
const IS_SHARED = /\bt\s*=\s*["']s["']/;
const SHARED_TEXT = /<(?:\w+:)?si[\s>]([\s\S]*?)<\/(?:\w+:)?si>/g;

/**
 * Checks the parts of a workbook.
 * @param parts  the unpacked files of it, by their names
 * @throws {FileError} for cells outside a sheet, areas far larger than what is filled, or more text than is read
 */
export function requireSmallSheets(parts: Record<string, Uint8Array>): void {
  const texts = Object.entries(parts)
    .filter(([name]) => /\.(xml|rels)$/i.test(name))
    .map(([name, bytes]) => [name, new TextDecoder('latin1').decode(bytes)] as const);
  for (const [name, text] of texts)
    if (/<!(DOCTYPE|ENTITY)/i.test(text))
      throw new FileError(
        'broken-body',
        `The spreadsheet is damaged: ${name} declares entities, which workbooks do not.`,
      );
  const lengths = texts.flatMap(([, text]) =>
    text.includes('<sst') || text.includes(':sst')
      ? Array.from(text.matchAll(SHARED_TEXT), ([, { length }]) => length)
      : [],
  );
  let characters = 0;
  for (const [name, text] of texts) if (/<(\w+:)?sheetData/.test(text)) characters += charactersOf(name, text, lengths);
  if (characters > MAX_CHARACTERS)
    throw new FileError(
      'too-large',
      'The cells of the spreadsheet hold more than 128 million characters. Save the sheet as CSV and import that.',
    );
}

/** Checks the area of a sheet. @returns the characters of its cells, about */
function charactersOf(name: string, text: string, lengths: readonly number[]): number {
  let [cells, lastRow, lastColumn, characters] = [0, 0, 0, text.length];
  for (const [, row] of text.matchAll(ROW)) lastRow = Math.max(lastRow, rowOf(row, `row ${row}`, name));
  for (const [, attributes, index] of text.matchAll(CELL)) {
    cells++;
    if (index !== undefined && IS_SHARED.test(attributes)) characters += lengths[Number(index)] ?? 0;
    const reference = REFERENCE.exec(attributes)?.[1];
    if (reference === undefined) continue;
    const [, letters, row] = /^([A-Z]{1,3})([1-9]\d{0,6})$/i.exec(reference) ?? [];
    lastRow = Math.max(lastRow, rowOf(row ?? '', `cell ${reference}`, name));
    lastColumn = Math.max(lastColumn, columnOf(letters, reference, name));
  }
  if (lastRow * lastColumn > Math.max(SMALL_AREA, AREA_PER_CELL * cells))
    throw new FileError(
      'too-large',
      `A sheet of the spreadsheet reaches to row ${lastRow.toLocaleString('en')} and column ${lastColumn.toLocaleString('en')}, ` +
        `but only ${cells.toLocaleString('en')} of its cells are filled. Delete the stray cells, or save the sheet as CSV.`,
    );
  return characters;
}

function rowOf(text: string, what: string, sheet: string): number {
  const row = /^\d{1,7}$/.test(text) ? Number(text) : 0;
  if (row < 1 || row > MAX_ROW) throw outside(what, sheet);
  return row;
}

function columnOf(letters: string, reference: string, sheet: string): number {
  let column = 0;
  for (const letter of letters.toUpperCase()) column = 26 * column + letter.charCodeAt(0) - 64;
  if (column > MAX_COLUMN) throw outside(`cell ${reference}`, sheet);
  return column;
}

const outside = (what: string, sheet: string): FileError =>
  new FileError(
    'broken-body',
    `The spreadsheet is damaged: ${what.slice(0, 40)} of ${sheet} lies outside A1 to XFD1048576.`,
  );
