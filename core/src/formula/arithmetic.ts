import type { BinaryOperator, UnaryOperator } from './tree.js';

/** A column, or one number that stands for every row. */
export type Operand = Float64Array | number;

/** Missing where it is no number, or beyond all numbers. */
function power(a: number, b: number): number {
  const value = a ** b;
  return value - value === 0 ? value : NaN;
}

const asTruth = (x: number): number => (x === 0 ? 0 : 1);

const BINARY: Record<BinaryOperator, (a: number, b: number) => number> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  '^': power,
  '<': (a, b) => (a < b ? 1 : 0),
  '<=': (a, b) => (a <= b ? 1 : 0),
  '>': (a, b) => (a > b ? 1 : 0),
  '>=': (a, b) => (a >= b ? 1 : 0),
  '==': (a, b) => (a === b ? 1 : 0),
  '!=': (a, b) => (a !== b ? 1 : 0),
  and: (a, b) => asTruth(a) * asTruth(b),
  or: (a, b) => Math.max(asTruth(a), asTruth(b)),
};

/** Row by row; missing where either side is. */
export function applyBinary(operator: BinaryOperator, left: Operand, right: Operand): Operand {
  const apply = BINARY[operator];
  const one = (a: number, b: number) => (Number.isNaN(a) || Number.isNaN(b) ? NaN : apply(a, b));
  if (typeof left === 'number' && typeof right === 'number') return one(left, right);
  switch (operator) {
    // the four that carry NaN by themselves, each with a loop of its own that the compiler can make plain
    case '+':
      return rowByRow(left, right, (a, b) => a + b);
    case '-':
      return rowByRow(left, right, (a, b) => a - b);
    case '*':
      return rowByRow(left, right, (a, b) => a * b);
    case '/':
      return rowByRow(left, right, (a, b) => a / b);
    default:
      return rowByRow(left, right, one);
  }
}

export function applyUnary(operator: UnaryOperator, x: Operand): Operand {
  const one = operator === '-' ? (a: number) => -a : (a: number) => (Number.isNaN(a) ? NaN : 1 - asTruth(a));
  return typeof x === 'number' ? one(x) : x.map(one);
}

function rowByRow(left: Operand, right: Operand, apply: (a: number, b: number) => number): Float64Array {
  // a number is a column of one row that is read again and again: index & 0 is 0, index & -1 is the index
  const a = typeof left === 'number' ? Float64Array.of(left) : left;
  const b = typeof right === 'number' ? Float64Array.of(right) : right;
  const maskA = typeof left === 'number' ? 0 : -1;
  const maskB = typeof right === 'number' ? 0 : -1;
  const rows = Math.max(maskA && a.length, maskB && b.length);
  const out = new Float64Array(rows);
  for (let row = 0; row < rows; row++) out[row] = apply(a[row & maskA], b[row & maskB]);
  return out;
}
