import { parseModel, type Model } from '../src/project/model.js';
import type { Coefficients } from '../src/project/outlook.js';

/** A model and what is wanted of it, as the reference files tell it. */
export interface WantedModel {
  model: string;
  rows?: number;
  season?: number;
  a?: number;
  of?: 'log';
  order?: [number, number, number];
  seasonal?: [number, number, number];
  constant?: boolean;
  coefficients?: Partial<Coefficients>;
  refused?: string;
  [figure: string]: unknown;
}

/** The model in our own words. */
export function modelOf({ model, rows, season, a, of, order, seasonal, constant }: WantedModel): Model {
  const behind = of ? ' of log' : '';
  if (model !== 'arima') {
    const number =
      model === 'last' ? (season === undefined ? '' : ` season ${season}`) : ` ${rows ?? a ?? ''}`.trimEnd();
    return parseModel(`${model}${number}${behind}`);
  }
  const by = seasonal ? `(${seasonal.join(', ')}) season ${season}` : '';
  return parseModel(`arima(${order!.join(', ')})${by}${constant ? '' : ' no constant'}${behind}`);
}

/** Coefficients that are given and not fitted. */
export const givenOf = ({ coefficients: c }: WantedModel): Coefficients | undefined =>
  c && { ar: c.ar ?? [], ma: c.ma ?? [], sar: c.sar ?? [], sma: c.sma ?? [], u: c.u ?? 0 };
