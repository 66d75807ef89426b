import { ArgumentError } from '../arguments.js';
import { isFinite } from '../windows/anchoredSums.js';
import { seasonalShape } from './seasonalShape.js';
import { deviationsOf } from '../numeric/deviations.js';

/** What is done to a column before it is examined: `log`, `change`, `change 34`, `relative change`, `detrended`, `less season 34`. */
export type Treatment =
  | { kind: 'log' }
  | { kind: 'change'; rows: number }
  | { kind: 'relative change'; rows: number }
  | { kind: 'detrended' }
  | { kind: 'less season'; rows: number };

/** @throws {ArgumentError} for what is none, or has no rows to go by */
export function parseTreatment(text: string): Treatment {
  const [, kind, rows] = /^\s*(log|change|relative change|detrended|less season)(?:\s+(\d{1,7}))?\s*$/.exec(text) ?? [];
  const count = rows === undefined ? 1 : Number(rows);
  if (kind === 'log' && rows === undefined) return { kind };
  if (kind === 'detrended' && rows === undefined) return { kind };
  if ((kind === 'change' || kind === 'relative change') && count >= 1) return { kind, rows: count };
  if (kind === 'less season' && count >= 2) return { kind, rows: count };
  throw new ArgumentError(
    'treatment',
    'one of `log`, `change`, `change 34`, `relative change`, `detrended` and `less season 34`',
    `\`${text}\``,
  );
}

/** In words that go on from `taken as`. */
export function treatmentText(treatment: Treatment): string {
  switch (treatment.kind) {
    case 'log':
      return 'its logarithm';
    case 'change':
      return treatment.rows === 1 ? 'its change' : `its change over ${treatment.rows} rows`;
    case 'relative change':
      return treatment.rows === 1 ? 'its relative change' : `its relative change over ${treatment.rows} rows`;
    case 'detrended':
      return 'itself less its straight line';
    case 'less season':
      return `itself less its season of ${treatment.rows} rows`;
  }
}

/** A column after some treatments, as long as before; missing where a treatment has no value. */
export const treated = (x: Float64Array, treatments: readonly Treatment[]): Float64Array =>
  treatments.reduce((column, treatment) => after(column, treatment), x);

function after(x: Float64Array, treatment: Treatment): Float64Array {
  switch (treatment.kind) {
    case 'log':
      return x.map((value) => (value > 0 ? Math.log(value) : NaN));
    case 'change':
      return x.map((value, row) => (row < treatment.rows ? NaN : value - x[row - treatment.rows]));
    case 'relative change':
      return x.map((value, row) => {
        const base = row < treatment.rows ? NaN : x[row - treatment.rows];
        return base === 0 ? NaN : value / base - 1;
      });
    case 'detrended':
      return detrended(x);
    case 'less season': {
      const { shape } = seasonalShape(x, treatment.rows);
      return x.map((value, row) => value - shape[row % treatment.rows]);
    }
  }
}

/** Less the least-squares line through the values that are there, by rows. */
function detrended(x: Float64Array): Float64Array {
  const rows = Float64Array.from(x.keys()).filter((row) => isFinite(x[row]));
  if (rows.length === 0) return x.slice();
  const values = rows.map((row) => x[row]);
  const [dr, dv] = [deviationsOf(rows), deviationsOf(values)];
  let [along, across] = [0, 0];
  for (let i = 0; i < rows.length; i++) {
    along += dr[i] * dv[i];
    across += dr[i] ** 2;
  }
  const slope = across > 0 ? along / across : 0;
  const out = new Float64Array(x.length).fill(NaN);
  rows.forEach((row, i) => (out[row] = dv[i] - slope * dr[i]));
  return out;
}
