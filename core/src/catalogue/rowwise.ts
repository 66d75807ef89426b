import { COLUMN_X, type FunctionEntry } from './functionEntry.js';
import { unitOfX, type Unit } from './units.js';

/** Functions that make a value of each row's own. */
function rowwise(
  name: string,
  sentence: string,
  formula: string,
  of: (x: number) => number,
  unit: (units: readonly Unit[]) => Unit = () => 'number',
): FunctionEntry {
  return {
    name,
    sentence,
    formula,
    unit,
    rowwise: true,
    parameters: [COLUMN_X],
    options: {},
    phrase: ([x]) => `${name} of ${x}`,
    example: `${name}(close)`,
    definition: 'The notation',
    source: 'arithmetic',
    cost: 'O(1) a row',
    compute: ([x]) => {
      const out = new Float64Array(x.length);
      for (let row = 0; row < x.length; row++) {
        const value = of(x[row]);
        out[row] = value - value === 0 ? value : NaN;
      }
      return out;
    },
  };
}

const choice: FunctionEntry = {
  name: 'if',
  sentence: 'One value where a condition holds, another where it does not; missing where the condition is.',
  formula: 'a where c is not 0, b where it is',
  unit: ([, a, b]) => (a === b ? a : 'number'),
  rowwise: true,
  parameters: [
    { kind: 'column', name: 'c', says: 'the condition' },
    { kind: 'column', name: 'a', says: 'the value where it holds' },
    { kind: 'column', name: 'b', says: 'the value where it does not' },
  ],
  options: {},
  phrase: ([c, a, b]) => `${a} where ${c}, else ${b}`,
  example: 'if(close > open, 1, 0)',
  definition: 'The notation',
  source: 'logic',
  cost: 'O(1) a row',
  compute: ([c, a, b]) =>
    c.map((condition, row) => (condition !== condition ? NaN : condition !== 0 ? a[row] : b[row])),
};

const where: FunctionEntry = {
  name: 'where',
  sentence: 'The value where a condition holds, missing elsewhere; so a mean or a count is of those rows alone.',
  formula: 'x where c is not 0',
  unit: ([, x]) => x,
  rowwise: true,
  parameters: [
    { kind: 'column', name: 'c', says: 'the condition' },
    { kind: 'column', name: 'x', says: 'the value' },
  ],
  options: {},
  phrase: ([c, x]) => `${x} where ${c}`,
  example: 'where(close > open, volume)',
  definition: 'The notation',
  source: 'logic',
  cost: 'O(1) a row',
  compute: ([c, x]) => c.map((condition, row) => (condition !== condition || condition === 0 ? NaN : x[row])),
};

const orelse: FunctionEntry = {
  name: 'orelse',
  sentence: 'The value, or another one where it is missing.',
  formula: 'x where it is there, y where it is not',
  unit: unitOfX,
  rowwise: true,
  parameters: [COLUMN_X, { kind: 'column', name: 'y', says: 'what stands in for a missing value' }],
  options: {},
  phrase: ([x, y]) => `${x}, or ${y} where it is missing`,
  example: 'orelse(return(close), 0)',
  definition: 'The notation',
  source: 'logic',
  cost: 'O(1) a row',
  compute: ([x, y]) => x.map((value, row) => (value !== value ? y[row] : value)),
};

export const rowwiseFunctions: readonly FunctionEntry[] = [
  choice,
  where,
  orelse,
  rowwise('abs', 'The size of the value, without its sign.', '|x|', Math.abs, unitOfX),
  rowwise('sign', 'Whether the value lies above 0 (1), below it (-1) or at it (0).', 'x / |x|', Math.sign),
  rowwise('log', 'The natural logarithm; missing where the value is not above 0.', 'ln x', Math.log),
  rowwise('exp', 'The number e to the power of the value.', 'e^x', Math.exp),
  rowwise('sqrt', 'The square root; missing where the value is below 0.', '√x', Math.sqrt),
  rowwise('round', 'The nearest whole number, halves up.', 'floor(x + 0.5)', Math.round, unitOfX),
  rowwise('floor', 'The greatest whole number that is not above the value.', '⌊x⌋', Math.floor, unitOfX),
  rowwise('ceil', 'The least whole number that is not below the value.', '⌈x⌉', Math.ceil, unitOfX),
];
