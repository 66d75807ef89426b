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

/** A bar rule: the kind, and its options where they differ from the default. */
export interface BarRule {
  kind: BarKind;
  empty: EmptyIntervals;
  allHours: boolean;
  restart: 'never' | 'day';
  side?: Side;
  price: QuotePrice;
}
