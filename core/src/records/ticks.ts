/** Text columns by name, as numbers that stand for their words. Missing is NaN. */
export type TextColumns = Record<string, Float64Array>;

/** Trades as columns, in order of time. Missing prices and sizes are NaN. */
export interface Ticks {
  /** Whole microseconds since the epoch. */
  time: Float64Array;
  price: Float64Array;
  size?: Float64Array;
  /** 1 where the buyer was the active side, -1 where the seller, 0 where it is not known. */
  side?: Int8Array;
  texts?: TextColumns;
  /** Further columns of numbers by name; a bar has what its last record has. Missing is NaN. */
  numbers?: Record<string, Float64Array>;
}

/** Quotes as columns, in order of time. */
export interface Quotes {
  time: Float64Array;
  bid: Float64Array;
  ask: Float64Array;
  bidSize?: Float64Array;
  askSize?: Float64Array;
  texts?: TextColumns;
  /** Further columns of numbers by name; a bar has what its last record has. Missing is NaN. */
  numbers?: Record<string, Float64Array>;
}
