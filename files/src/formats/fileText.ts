import { isZip, unpacked, type Unpacking } from './decoding.js';
import { FileError } from '../fileError.js';
import { MOST_SPREADSHEET_BYTES, readSheet, refuseOtherSpreadsheets } from './spreadsheet.js';
import { isSpreadsheet } from './zipStart.js';

/** A file as its records are read from it: unpacked, and a spreadsheet as text of one of its sheets. */
export interface FileText {
  chunks: AsyncIterable<Uint8Array>;
  /** What the file is, which is no choice: a spreadsheet, and the sheet. */
  own: { format?: 'spreadsheet'; sheet?: string };
  /** All sheets of a spreadsheet. */
  sheets: string[];
}

/** @param sheet  of a spreadsheet; @throws {FileError} for a file that is damaged, or of a form that is not read */
export async function openFileText(
  file: AsyncIterable<Uint8Array>,
  bounds: Unpacking,
  sheet?: string,
): Promise<FileText> {
  const chunks = file[Symbol.asyncIterator]();
  const parts: Uint8Array[] = [];
  let bytes = 0;
  const takeUntil = async (most: number) => {
    while (bytes < most) {
      const next = await chunks.next();
      if (next.done) return;
      parts.push(next.value);
      bytes += next.value.length;
    }
  };
  await takeUntil(128);
  const start = parts.length === 1 ? parts[0] : new Uint8Array(Buffer.concat(parts));
  refuseOtherSpreadsheets(start);
  if (!isZip(start) || !isSpreadsheet(start))
    return { chunks: unpacked(after(parts, chunks), bounds), own: {}, sheets: [] };
  await takeUntil(MOST_SPREADSHEET_BYTES + 1);
  if (bytes > MOST_SPREADSHEET_BYTES)
    throw new FileError('too-large', 'Spreadsheets are read up to 64 MB. Save the sheet as CSV and enter that.');
  const found = await readSheet(new Uint8Array(Buffer.concat(parts)), sheet, bounds);
  const own = { format: 'spreadsheet', sheet: found.sheet } as const;
  return { chunks: after([found.text], chunks), own, sheets: found.sheets };
}

async function* after(parts: readonly Uint8Array[], rest: AsyncIterator<Uint8Array>): AsyncGenerator<Uint8Array> {
  yield* parts;
  for (let next = await rest.next(); !next.done; next = await rest.next()) yield next.value;
}
