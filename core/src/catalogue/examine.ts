import { seasonalShape } from '../examine/seasonalShape.js';
import { turningPoints } from '../examine/turningPoints.js';
import { treated } from '../examine/treatments.js';
import { COLUMN_X, type FunctionEntry } from './functionEntry.js';
import { moveOfX } from './units.js';

const DEFINITION = '10. Examination of one column';

/** What Examine makes of a column, as functions: they are made of all rows, later ones too, and marked so. */
export const examineFunctions: readonly FunctionEntry[] = [
  {
    name: 'season',
    sentence: 'The seasonal shape over a cycle of so many rows, and the remainder once trend and shape are taken off.',
    remark: 'Positions in the cycle count from the first row; the shape is made of all rows, also of later ones.',
    formula:
      'shape = mean of x - trend at each position, less its mean; trend = centred mean over s; rest = x - trend - shape',
    example: 'season(close, 12)',
    definition: DEFINITION,
    source: 'classical decomposition; Macaulay 1931',
    cost: 'O(1) a row',
    unit: moveOfX,
    phrase: ([x], { numbers: { s } }) => `season of ${x} over ${s} rows`,
    parameters: [
      COLUMN_X,
      { kind: 'number', name: 's', says: 'rows of a cycle', above: 1, max: 1e6, whole: true, default: 12 },
    ],
    options: {},
    parts: [
      { name: 'shape', says: 'seasonal shape', drawn: true },
      { name: 'rest', says: 'remainder', drawn: false },
      { name: 'trend', says: 'centred trend', drawn: false },
    ],
    looksAhead: () => true,
    compute: ([x], { numbers: { s } }) => {
      const { shape, remainder, trend } = seasonalShape(x, s);
      return [x.map((_, row) => shape[row % s]), remainder, trend];
    },
  },
  {
    name: 'turns',
    sentence: 'Tops, and bottoms, that nothing within so many rows on either side goes beyond; missing at other rows.',
    remark:
      'Of tops without a bottom between them the highest stands, of bottoms the lowest; within so many rows of either end there is none.',
    formula: 'x[t] where x[t] > x[t-k..t-1] and x[t] >= x[t+1..t+k]',
    example: 'turns(close, 12)',
    definition: DEFINITION,
    source: 'comparison',
    cost: 'O(1) a row',
    unit: ([x]) => x,
    phrase: ([x], { numbers: { rows } }) => `tops and bottoms of ${x}, ${rows} rows on either side`,
    parameters: [
      COLUMN_X,
      { kind: 'number', name: 'rows', says: 'rows on either side', above: 0, max: 1e6, whole: true, default: 12 },
    ],
    options: {},
    parts: [
      { name: 'top', says: 'top', drawn: true },
      { name: 'bottom', says: 'bottom', drawn: true },
    ],
    looksAhead: () => true,
    compute: ([x], { numbers: { rows } }) => {
      const { tops, bottoms } = turningPoints(x, rows);
      return [tops, bottoms].map((found) => {
        const column = new Float64Array(x.length).fill(NaN);
        for (const row of found) column[row] = x[row];
        return column;
      });
    },
  },
  {
    name: 'detrended',
    sentence: 'Each value less the straight line through all values.',
    formula: 'x - (a + b t), least squares over all rows',
    example: 'detrended(close)',
    definition: DEFINITION,
    source: 'least squares',
    cost: 'O(1) a row',
    unit: moveOfX,
    phrase: ([x]) => `${x} less its straight line`,
    parameters: [COLUMN_X],
    options: {},
    looksAhead: () => true,
    compute: ([x]) => treated(x, [{ kind: 'detrended' }]),
  },
];
