import { unzip } from 'fflate';
import { FileError } from '../fileError.js';
import { refuseGrowth, type Unpacking } from './decoding.js';
import { delimitedText } from './delimitedText.js';
import { requireSmallSheets } from './sheetBounds.js';
import { firstNameOf } from './zipStart.js';

/** A spreadsheet is held whole while it is read, and takes about seven times the memory of what it unpacks to. */
export const MOST_SPREADSHEET_BYTES = 64 << 20;
const MOST_UNPACKED_BYTES = 128 << 20;

/** One sheet of a spreadsheet as delimited text, and the names of all of them. */
export interface SheetText {
  text: Uint8Array;
  sheet: string;
  sheets: string[];
}

/** @throws {FileError} for spreadsheets of older and other forms, which are not read */
export function refuseOtherSpreadsheets(start: Uint8Array): void {
  const isOlder = start[0] === 0xd0 && start[1] === 0xcf && start[2] === 0x11 && start[3] === 0xe0;
  if (isOlder || firstNameOf(start) === 'mimetype')
    throw new FileError(
      'unreadable-lines',
      'A spreadsheet of this form is not read. Save it as an Office Open XML workbook (.xlsx) or as CSV.',
    );
}

/**
 * Reads one sheet of an Office Open XML workbook.
 * @param wanted  its name; the first sheet with at least two rows where it is not said
 * @throws {FileError} where the file is damaged, unpacks to too much, or has no such sheet
 */
export async function readSheet(file: Uint8Array, wanted: string | undefined, bounds: Unpacking): Promise<SheetText> {
  const bytes = await unpackedBytes(file);
  refuseGrowth(file.length, bytes, bounds);
  if (bytes > MOST_UNPACKED_BYTES)
    throw new FileError(
      'too-large',
      'Spreadsheets are read where they unpack to at most 128 MB. Save the sheet as CSV and enter that.',
    );
  requireSmallSheets(await unpacked(file));
  // large, and few files need it
  const { default: readWorkbook } = await import('read-excel-file/universal');
  const workbook = await readWorkbook(file.slice().buffer, { trim: true }).catch((cause: unknown) => {
    throw damaged(cause);
  });
  const sheets = workbook.map(({ sheet }) => sheet);
  const chosen =
    wanted === undefined || wanted === ''
      ? (workbook.find(({ data }) => data.length > 1) ?? workbook[0])
      : workbook.find(({ sheet }) => sheet === wanted);
  if (!chosen)
    throw new FileError('invalid-query', `The spreadsheet has no sheet ${wanted}; it has ${sheets.join(', ')}.`);
  const rows = chosen.data.map((row) => row.map((cell) => cellText(cell)));
  return { text: new TextEncoder().encode(delimitedText(rows, ',')), sheet: chosen.sheet, sheets };
}

/** What all of a zip unpacks to, as it says itself. */
function unpackedBytes(file: Uint8Array): Promise<number> {
  let bytes = 0;
  const filter = ({ originalSize }: { originalSize: number }) => {
    bytes += originalSize;
    return false;
  };
  return new Promise((resolve, reject) =>
    unzip(file, { filter }, (error) => (error ? reject(damaged(error)) : resolve(bytes))),
  );
}

/** The parts that tables are made of. */
function unpacked(file: Uint8Array): Promise<Record<string, Uint8Array>> {
  const filter = ({ name }: { name: string }) => /\.(xml|rels)$/i.test(name);
  return new Promise((resolve, reject) =>
    unzip(file, { filter }, (error, parts) => (error ? reject(damaged(error)) : resolve(parts))),
  );
}

function damaged(cause: unknown): unknown {
  if (cause instanceof Error)
    return new FileError('broken-body', `The spreadsheet is damaged: ${cause.message.slice(0, 200)}.`, { cause });
  return cause;
}

/** Dates of a spreadsheet have no zone: they are told without one. What lies in the first day is a time of day. */
function cellText(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (!(cell instanceof Date)) return String(cell);
  if (Number.isNaN(cell.getTime())) return '';
  const [date, clock] = cell.toISOString().replace('Z', '').split('T');
  if (cell.getUTCFullYear() < 1900) return clock.replace(/\.000$/, '');
  if (clock === '00:00:00.000') return date;
  return `${date} ${clock.replace(/\.000$/, '')}`;
}
