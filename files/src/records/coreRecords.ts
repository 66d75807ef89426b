import {
  isTimed,
  parseBarRule,
  timedKind,
  type Bars,
  type Calendar,
  type Quotes,
  type Ticks,
} from '@jaunty-ledger/core';
import type { TapeKind } from '../reading/reading.js';
import type { RecordColumns } from './recordColumns.js';
import { fileColumnsIn, type NumberColumn } from './textColumns.js';

/** What records are of, beside their columns. */
export interface RecordsAbout {
  kind: TapeKind;
  /** Length of bars. */
  interval: string | null;
  texts: readonly NumberColumn[];
  numbers: readonly NumberColumn[];
}

/** Stored columns of records as the core takes them. @param calendar  asked for bars alone, which end by it */
export function coreRecords(
  about: RecordsAbout,
  columns: RecordColumns,
  calendar: () => Calendar,
): Ticks | Quotes | Bars {
  const texts = fileColumnsIn(about.texts, columns);
  const numbers = fileColumnsIn(about.numbers, columns);
  if (about.kind === 'ticks' || about.kind === 'series') {
    const side = columns.side && Int8Array.from(columns.side);
    return { time: columns.time, price: columns.price, size: columns.size, side, texts, numbers };
  }
  if (about.kind === 'quotes') return { time: columns.time, bid: columns.bid, ask: columns.ask, texts, numbers };
  const { time, open, high, low, close, volume, trades } = columns;
  const missing = () => new Float64Array(time.length).fill(NaN);
  return {
    ...{ time, end: endsOf(about.interval!, time, calendar()), open, high, low, close },
    volume: volume ?? missing(),
    value: columns.value ?? missing(),
    vwap: missing(),
    trades: trades ?? missing(),
    complete: new Uint8Array(time.length).fill(1),
    ...{ texts, numbers },
  };
}

/** When records that are bars end: after their interval; those of a day with the session. */
export function endsOf(interval: string, time: Float64Array, calendar: Calendar): Float64Array {
  const { kind } = parseBarRule(interval);
  if (!isTimed(kind)) throw new TypeError(`records are bars of ${interval}`);
  return time.map((start) => timedKind(kind).endOf(kind, start, calendar));
}
