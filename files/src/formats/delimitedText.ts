import { CsvError, parse } from 'csv-parse/sync';
import type { Reading } from '../reading/reading.js';

/** Rows as delimited text, in quotes where a field needs them. */
export const delimitedText = (rows: readonly (readonly string[])[], delimiter: Reading['delimiter']): string =>
  rows.map((row) => `${row.map((cell) => quoted(cell, delimiter)).join(delimiter)}\n`).join('');

const quoted = (cell: string, delimiter: string): string =>
  /["\r\n]/.test(cell) || cell.includes(delimiter) ? `"${cell.replaceAll('"', '""')}"` : cell;

/** Fields of lines. Quotes that do not close, as where a sample cuts them off, are no reason to give up. */
export function fieldsOfLines(lines: readonly string[], delimiter: Reading['delimiter']): string[][] {
  if (delimiter === ' ') return lines.map((line) => line.trim().split(/[ \t]+/));
  // without quotes a line is no more than its fields; a parser is begun anew for each call
  if (!lines.some((line) => line.includes('"')))
    return lines.filter((line) => line.trim() !== '').map((line) => line.split(delimiter).map((cell) => cell.trim()));
  try {
    return parse(lines.join('\n'), {
      delimiter,
      relax_column_count: true,
      relax_quotes: true,
      trim: true,
      skip_empty_lines: true,
    });
  } catch (error) {
    if (!(error instanceof CsvError)) throw error;
    return lines.map((line) => line.split(delimiter).map((cell) => cell.trim().replaceAll('"', '')));
  }
}
