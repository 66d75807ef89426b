import { changingVariance } from '../examine/changingVariance.js';
import { summary } from '../examine/summary.js';
import { autocorrelation } from '../memory/autocorrelation.js';
import type { ArimaModel } from './model.js';

/** Tests of the residuals of a model. */
export interface ResidualCheck {
  acf: Float64Array;
  band: number;
  /** p is NaN where no degree of freedom is left. */
  ljungBox: { lags: number; degrees: number; statistic: number; p: number };
  jarqueBera: { statistic: number; p: number };
  arch: { lags: number; statistic: number; p: number };
  says: string;
}

const ARCH_LAGS = 5;
const LEVEL = 0.05;

/** What a model had fitted, for the degrees of freedom, and the rows of its season. */
interface Explained {
  parameters: number;
  season?: number;
}

export const explainedBy = ({ p, q, seasonal }: ArimaModel): Explained => ({
  parameters: p + q + (seasonal ? seasonal.p + seasonal.q : 0),
  season: seasonal?.rows,
});

/** @param residuals  one-step errors over their deviations; @see definitions, section 11 */
export function residualCheck(residuals: Float64Array, { parameters, season }: Explained): ResidualCheck {
  const n = residuals.length;
  const wanted = season ? 2 * season : 10;
  const lags = Math.max(1, Math.min(wanted, Math.floor(n / 5), n - 1));
  const { acf, band, ljungBox } = autocorrelation(residuals, lags, parameters);
  const { jarqueBera } = summary(residuals);
  const arch = changingVariance(residuals, ARCH_LAGS);
  const last = ljungBox[lags - 1];
  return {
    acf,
    band,
    ljungBox: { lags, ...last },
    jarqueBera,
    arch: { lags: ARCH_LAGS, statistic: arch.statistic, p: arch.p },
    says: verdict(last.p, acf, band, jarqueBera.p, arch.p),
  };
}

function verdict(ljungBox: number, acf: Float64Array, band: number, jarqueBera: number, arch: number): string {
  const spikes = Array.from(acf.keys()).filter((lag) => lag > 0 && Math.abs(acf[lag]) > band);
  const memory = Number.isNaN(ljungBox)
    ? 'Too few residuals for a test of their autocorrelation.'
    : ljungBox >= LEVEL
      ? 'The residuals look like white noise.'
      : `The residuals are autocorrelated${spikes.length > 0 ? `, most at lag ${spikes.reduce((a, b) => (Math.abs(acf[a]) >= Math.abs(acf[b]) ? a : b))}: a higher order may help` : ''}.`;
  const others = [
    arch < LEVEL ? 'their volatility clusters' : '',
    jarqueBera < LEVEL ? 'large errors are more frequent than the intervals assume' : '',
  ].filter(Boolean);
  if (others.length === 0) return memory;
  const text = others.join(', and ');
  return `${memory} ${text[0].toUpperCase()}${text.slice(1)}.`;
}
