import { FileError } from '../fileError.js';
import { visitTags } from './xmlTags.js';

/* What the parts of a workbook would grow to, counted before a table is made of them: a cell in the last row and column of a
   sheet makes a table of 17 thousand million cells, and a long text may be used in any number of cells. */

const MAX_ROW = 1_048_576;
const MAX_COLUMN = 16_384;
/** Cells of the used area of a sheet. A sparse one may have some times as many as are filled. */
const SMALL_AREA = 1_000_000;
const AREA_PER_CELL = 20;
/** Characters of all cells, texts that several cells share counted in each. */
const MAX_CHARACTERS = 128 << 20;

const REFERENCE = /\br\s*=\s*["']([^"']*)["']/;
const IS_SHARED = /\bt\s*=\s*["']s["']/;

/**
 * Checks the parts of a workbook.
 * @param parts  the unpacked files of it, by their names
 * @throws {FileError} for parts that are not well formed, cells outside a sheet, areas far larger than what is filled, or
 *   more text than is read
 */
export function requireSmallSheets(parts: Record<string, Uint8Array>): void {
  const scanned = Object.entries(parts)
    .filter(([name]) => /\.(xml|rels)$/i.test(name))
    .map(([name, bytes]) => scan(name, new TextDecoder('latin1').decode(bytes)));
  const lengths = scanned.flatMap(({ sharedLengths }) => sharedLengths);
  // an index that this scan does not understand is taken for the longest text
  const longest = lengths.reduce((length, other) => Math.max(length, other), 0);
  let characters = 0;
  for (const { name, area, ownCharacters, sharedUses } of scanned) {
    if (!area) continue;
    requireFilledArea(name, area);
    characters += ownCharacters;
    for (const index of sharedUses) characters += lengths[index] ?? longest;
  }
  if (characters > MAX_CHARACTERS)
    throw new FileError(
      'too-large',
      'The cells of the spreadsheet hold more than 128 million characters. Save the sheet as CSV and import that.',
    );
}

interface Area {
  cells: number;
  lastRow: number;
  lastColumn: number;
}

interface ScannedPart {
  name: string;
  /** Of a sheet only. */
  area?: Area;
  ownCharacters: number;
  /** Characters of each shared text, and the index of one for each cell that shows it. */
  sharedLengths: number[];
  sharedUses: number[];
}

/** Walks through the tags of a part once. */
function scan(name: string, text: string): ScannedPart {
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    throw new FileError(
      'broken-body',
      `The spreadsheet is damaged: ${name} declares entities, which workbooks do not.`,
    );
  const part: ScannedPart = { name, ownCharacters: text.length, sharedLengths: [], sharedUses: [] };
  let [textStart, isSharedCell] = [0, false];
  const fault = visitTags(text, ({ name: tag, kind, attributes, start, end }) => {
    if (tag === 'si' && kind === 'open') textStart = end;
    else if (tag === 'si') part.sharedLengths.push(kind === 'close' ? start - textStart : 0);
    else if (tag === 'sheetData') part.area ??= { cells: 0, lastRow: 0, lastColumn: 0 };
    else if (kind === 'close' || !part.area) return;
    else if (tag === 'row' || tag === 'c') {
      isSharedCell = tag === 'c' && IS_SHARED.test(attributes);
      extendArea(part.area, tag, REFERENCE.exec(attributes)?.[1], name);
    } else if (tag === 'v' && isSharedCell) part.sharedUses.push(indexOf(text.slice(end, text.indexOf('<', end))));
  });
  if (fault) throw new FileError('broken-body', `The spreadsheet is damaged: ${name} has ${fault}.`);
  return part;
}

/** @returns -1 for what is no index */
const indexOf = (text: string): number => (/^\d+$/.test(text) ? Number(text) : -1);

function extendArea(area: Area, tag: 'row' | 'c', reference: string | undefined, sheet: string): void {
  if (tag === 'c') area.cells++;
  if (reference === undefined) return;
  if (tag === 'row') {
    area.lastRow = Math.max(area.lastRow, rowOf(reference, `row ${reference}`, sheet));
    return;
  }
  const [, letters, row] = /^([A-Z]{1,3})([1-9]\d{0,6})$/i.exec(reference) ?? [];
  area.lastRow = Math.max(area.lastRow, rowOf(row ?? '', `cell ${reference}`, sheet));
  area.lastColumn = Math.max(area.lastColumn, columnOf(letters, reference, sheet));
}

function requireFilledArea(sheet: string, { cells, lastRow, lastColumn }: Area): void {
  if (lastRow * lastColumn <= Math.max(SMALL_AREA, AREA_PER_CELL * cells)) return;
  throw new FileError(
    'too-large',
    `${sheet} of the spreadsheet reaches to row ${lastRow.toLocaleString('en')} and column ${lastColumn.toLocaleString('en')}, ` +
      `but only ${cells.toLocaleString('en')} of its cells are filled. Delete the stray cells, or save the sheet as CSV.`,
  );
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
