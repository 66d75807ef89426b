import type { TapeKind } from '$lib/api/tapes';

/** A column that records of a kind may have. */
export interface ColumnRule {
  name: string;
  required: boolean;
  /** Header words that mean it, in lower case. */
  words: readonly string[];
}

/** The columns of each kind, in the order in which a file without a header has them. The first is the time. */
export const RECORD_COLUMNS: Record<TapeKind, readonly ColumnRule[]> = {
  ticks: [
    { name: 'time', required: true, words: ['time', 'timestamp', 'datetime', 'date', 'instant'] },
    { name: 'price', required: true, words: ['price', 'last', 'px'] },
    { name: 'size', required: false, words: ['size', 'quantity', 'qty', 'volume', 'units'] },
  ],
  bars: [
    { name: 'time', required: true, words: ['time', 'timestamp', 'datetime', 'date', 'start'] },
    { name: 'open', required: true, words: ['open'] },
    { name: 'high', required: true, words: ['high'] },
    { name: 'low', required: true, words: ['low'] },
    { name: 'close', required: true, words: ['close'] },
    { name: 'volume', required: false, words: ['volume', 'size'] },
    { name: 'trades', required: false, words: ['trades', 'count'] },
  ],
};

/** The column that stands for the price of a record. */
export const priceColumnOf = (kind: TapeKind): string => (kind === 'ticks' ? 'price' : 'close');
export const sizeColumnOf = (kind: TapeKind): string => (kind === 'ticks' ? 'size' : 'volume');
