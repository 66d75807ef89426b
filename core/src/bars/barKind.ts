import type { PeriodUnit } from '../time/periods.js';

export type RunningUnit = 'trades' | 'units' | 'value';

/** Bars that end with the clock or the calendar. */
export type TimedKind = { by: 'interval'; micros: number } | { by: 'period'; unit: PeriodUnit };
/** Bars that end when a running total, or the range of their prices, reaches a limit. */
export type RunningKind = { by: RunningUnit | 'range'; limit: number };
export type BarKind = TimedKind | RunningKind;

export const isTimed = (kind: BarKind): kind is TimedKind => kind.by === 'interval' || kind.by === 'period';

export type EmptyIntervals = 'skip' | 'carry' | 'blank';
export type Side = 'buy' | 'sell';
export type QuotePrice = 'mid' | 'bid' | 'ask';

/** What of the values of its records a bar has. */
export const TAKES = ['last', 'first', 'sum', 'mean'] as const;
export type Take = (typeof TAKES)[number];

/** A bar rule: the kind, and its options where they differ from the default. */
export interface BarRule {
  kind: BarKind;
  empty: EmptyIntervals;
  allHours: boolean;
  restart: 'never' | 'day';
  side?: Side;
  price: QuotePrice;
  /** What single values come to in a bar: all four prices are that. */
  take: Take;
  /** What further columns of numbers come to, where it is not the last value. */
  takes: Readonly<Record<string, Take>>;
  /** The further column that holds adjusted closes: prices are all multiplied by adjusted / close of their record. */
  adjusted?: string;
}
