import { z } from 'zod';

/** How the text of a file becomes records: proposed from a sample, never imposed. */

export const FileFormat = z.enum(['delimited', 'spreadsheet', 'ndjson', 'json', 'parquet', 'arrow']);
export type FileFormat = z.infer<typeof FileFormat>;

/** Whether a file of a format is read as delimited text. */
export const isDelimited = (format: FileFormat): boolean => format === 'delimited' || format === 'spreadsheet';

export const TapeKind = z.enum(['ticks', 'quotes', 'bars', 'series']);
export type TapeKind = z.infer<typeof TapeKind>;

/** What a column of a file is. `date` and `clock` together are a time; a `period` is a plain number without a date; `instrument` makes a tape of each of its words. */
export const ROLES: Record<TapeKind, readonly string[]> = {
  ticks: ['time', 'date', 'clock', 'period', 'price', 'size', 'side', 'instrument', 'text', 'number', 'skip'],
  quotes: [
    'time',
    'date',
    'clock',
    'period',
    'bid',
    'ask',
    'bidSize',
    'askSize',
    'instrument',
    'text',
    'number',
    'skip',
  ],
  bars: [
    'time',
    'date',
    'clock',
    'period',
    'open',
    'high',
    'low',
    'close',
    'volume',
    'value',
    'trades',
    'instrument',
    'text',
    'number',
    'skip',
  ],
  series: ['time', 'date', 'clock', 'period', 'value', 'size', 'instrument', 'text', 'number', 'skip'],
};

/** Columns that records of a kind cannot do without, beside the time. */
export const REQUIRED: Record<TapeKind, readonly string[]> = {
  ticks: ['price'],
  quotes: ['bid', 'ask'],
  bars: ['open', 'high', 'low', 'close'],
  series: ['value'],
};

/** One column of the file: what it is, and its name where it keeps one. */
export const ColumnReading = z.strictObject({
  role: z.string(),
  name: z.string().max(60),
});
export type ColumnReading = z.infer<typeof ColumnReading>;

export const Reading = z.strictObject({
  format: FileFormat,
  encoding: z.enum(['utf-8', 'utf-16le', 'utf-16be', 'latin1']),
  delimiter: z.enum([',', ';', '\t', '|', ' ']),
  header: z.boolean(),
  /** Lines before the header or the first record: titles, notes, empty ones. */
  skip: z.number().int().min(0).max(1000).default(0),
  /** Lines between the header and the first record: units, and others that are no records. */
  under: z.number().int().min(0).max(1000).default(0),
  /** The sheet of a spreadsheet. */
  sheet: z.string().max(100).default(''),
  /** Where in one value of JSON the records are, as a JSON Pointer. */
  path: z.string().max(400).default(''),
  /** JSON has its records by rows or by columns; a table has one a row, or its periods across, with a row for each item. */
  layout: z.enum(['rows', 'columns', 'across']).default('rows'),
  /** The mark before the decimals; the thousands mark is the other one, a space or an apostrophe. */
  decimal: z.enum(['.', ',']),
  dateOrder: z.enum(['year-first', 'day-first', 'month-first']),
  kind: TapeKind,
  columns: z.array(ColumnReading).min(1).max(256),
});
export type Reading = z.infer<typeof Reading>;

/** Delimiters by their names. */
export const DELIMITERS = { comma: ',', semicolon: ';', tab: '\t', bar: '|', space: ' ' } as const;

/** Choices of a reading that a request makes; the rest is proposed from the beginning of the file. */
export const ReadingChoices = z.strictObject({
  format: FileFormat.optional(),
  encoding: Reading.shape.encoding.optional(),
  delimiter: z
    .enum(['comma', 'semicolon', 'tab', 'bar', 'space'])
    .transform((name) => DELIMITERS[name])
    .optional(),
  header: z
    .enum(['yes', 'no'])
    .transform((text) => text === 'yes')
    .optional(),
  skip: z.coerce.number().int().min(0).max(1000).optional(),
  under: z.coerce.number().int().min(0).max(1000).optional(),
  sheet: z.string().max(100).optional(),
  path: z.string().max(400).optional(),
  layout: Reading.shape.layout.unwrap().optional(),
  decimal: z
    .enum(['point', 'comma'])
    .transform((name) => (name === 'point' ? '.' : ','))
    .optional(),
  dateOrder: Reading.shape.dateOrder.optional(),
  kind: TapeKind.optional(),
  /** Role of each column in order, `time,price,size,skip`; `text=venue` keeps a column under a name. */
  columns: z
    .string()
    .transform((text) =>
      text.split(',').map((part) => {
        const [role, name] = part.trim().split('=');
        return { role, name: name ?? '' };
      }),
    )
    .optional(),
});
export type ReadingChoices = z.infer<typeof ReadingChoices>;

/** The choices of a whole reading, as parameters of `POST /api/tapes`. */
export function choicesOf(reading: Reading): Record<string, string> {
  return {
    format: reading.format,
    encoding: reading.encoding,
    delimiter: Object.entries(DELIMITERS).find(([, mark]) => mark === reading.delimiter)![0],
    header: reading.header ? 'yes' : 'no',
    skip: String(reading.skip),
    under: String(reading.under),
    ...(reading.format === 'spreadsheet' && { sheet: reading.sheet }),
    ...(reading.format === 'json' && { path: reading.path }),
    ...((reading.format === 'json' || isDelimited(reading.format)) && { layout: reading.layout }),
    decimal: reading.decimal === '.' ? 'point' : 'comma',
    dateOrder: reading.dateOrder,
    kind: reading.kind,
    columns: reading.columns.map(({ role, name }) => (name ? `${role}=${name}` : role)).join(','),
  };
}
