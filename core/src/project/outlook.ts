import type { ArimaModel, SmoothModel } from './model.js';
import type { Weights } from './smoothing/recursion.js';

/** A model that values have been given to. */
export interface Fitted {
  /**
   * Values and deviations so many rows ahead, from 1; a deviation is NaN where it lacks a divisor.
   * Of a model of logarithms both are those of the logarithms.
   */
  ahead: (horizon: number) => Outlook;
  /** What was searched for, which a later fit may keep. */
  found: Found;
  /** How the variance moves, of a model that says so. */
  moving?: { a: number; b: number; persistence: number; halfLife: number };
  /** Whether deviations are those of the logarithm, though values are not. */
  hasLogDeviations?: boolean;
  /** Whether all values that it was given are above 0. */
  isPositive?: boolean;
}

export interface Outlook {
  value: Float64Array;
  deviation: Float64Array;
}

/** Numbers of a model that were searched for. */
export interface Found {
  factor?: number;
  coefficients?: Coefficients;
  /** How a variance moves. */
  variance?: { w: number; a: number; b: number };
  /** Weights of exponential smoothing, and the kind that was chosen. */
  smoothing?: Partial<Weights>;
  chosenSmooth?: SmoothModel;
  /** The orders that were chosen. */
  chosen?: ArimaModel;
}

/** Of an arima: its own past, shocks, both by seasons, and the mean of what is left after differencing. */
export interface Coefficients {
  ar: readonly number[];
  ma: readonly number[];
  sar: readonly number[];
  sma: readonly number[];
  u: number;
}

/** Why a model cannot be given these values: too few, none above 0, nothing left to explain. */
export class ModelRefusal extends Error {
  override readonly name = 'ModelRefusal';
}

/** @throws {ModelRefusal} for fewer values than a model needs */
export function requireValues(model: string, needs: number, has: number): void {
  if (has < needs)
    throw new ModelRefusal(
      `${model} needs ${needs} value${needs === 1 ? '' : 's'}, there ${has === 1 ? 'is' : 'are'} ${has}`,
    );
}
