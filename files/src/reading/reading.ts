import { z } from 'zod';

/** How the text of a file becomes records: proposed from a sample, never imposed. */

export const FileFormat = z.enum(['delimited', 'ndjson', 'json', 'parquet', 'arrow']);
export type FileFormat = z.infer<typeof FileFormat>;

export const TapeKind = z.enum(['ticks', 'quotes', 'bars', 'series']);
export type TapeKind = z.infer<typeof TapeKind>;

/** What a column of a file is. `date` and `clock` together are a time; `instrument` makes a tape of each of its words. */
export const ROLES: Record<TapeKind, readonly string[]> = {
  ticks: ['time', 'date', 'clock', 'price', 'size', 'side', 'instrument', 'text', 'skip'],
  quotes: ['time', 'date', 'clock', 'bid', 'ask', 'bidSize', 'askSize', 'instrument', 'text', 'skip'],
  bars: [
    'time',
    'date',
    'clock',
    'open',
    'high',
    'low',
    'close',
    'volume',
    'value',
    'trades',
    'instrument',
    'text',
    'skip',
  ],
  series: ['time', 'date', 'clock', 'value', 'skip'],
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
  delimiter: z.enum([',', ';', '\t', '|']),
  header: z.boolean(),
  /** Lines before the header or the first record: titles, notes, empty ones. */
  skip: z.number().int().min(0).max(1000).default(0),
  /** The mark before the decimals; the thousands mark is the other one, a space or an apostrophe. */
  decimal: z.enum(['.', ',']),
  dateOrder: z.enum(['year-first', 'day-first', 'month-first']),
  kind: TapeKind,
  columns: z.array(ColumnReading).min(1).max(256),
});
export type Reading = z.infer<typeof Reading>;

/** Choices of a reading that a request makes; the rest is proposed from the beginning of the file. */
export const ReadingChoices = z.strictObject({
  format: FileFormat.optional(),
  encoding: Reading.shape.encoding.optional(),
  delimiter: z
    .enum(['comma', 'semicolon', 'tab', 'bar'])
    .transform((name) => ({ comma: ',', semicolon: ';', tab: '\t', bar: '|' })[name] as Reading['delimiter'])
    .optional(),
  header: z
    .enum(['yes', 'no'])
    .transform((text) => text === 'yes')
    .optional(),
  skip: z.coerce.number().int().min(0).max(1000).optional(),
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
    delimiter: { ',': 'comma', ';': 'semicolon', '\t': 'tab', '|': 'bar' }[reading.delimiter],
    header: reading.header ? 'yes' : 'no',
    skip: String(reading.skip),
    decimal: reading.decimal === '.' ? 'point' : 'comma',
    dateOrder: reading.dateOrder,
    kind: reading.kind,
    columns: reading.columns.map(({ role, name }) => (name ? `${role}=${name}` : role)).join(','),
  };
}
