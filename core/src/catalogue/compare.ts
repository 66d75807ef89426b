import { groupAverage } from '../compare/group.js';
import { COLUMN_X, type FunctionEntry } from './functionEntry.js';

/** Several columns put into one. */
export const compareFunctions: readonly FunctionEntry[] = [
  {
    name: 'group',
    sentence:
      'The average of several columns, 100 where it begins: it moves by the mean of the returns of those that have one.',
    remark:
      'A tape may name itself, so that the group stays the same on each of its members: `group(KELP.close, SALT.close, LAMP.close)`.',
    formula:
      'g[t] = g[t-1] (1 + mean of the returns at t), from 100; held = mean of 100 x / x[b], b the first row that all have',
    example: 'group(close, open)',
    definition: '13. Comparison of columns',
    source: 'arithmetic',
    cost: 'O(1) a row and column',
    unit: () => 'number',
    phrase: (columns) => `average of ${columns.join(', ')}`,
    parameters: [COLUMN_X, { kind: 'column', name: 'y', says: 'a further column, or several', more: true }],
    options: {},
    parts: [
      { name: 'average', says: 'by returns', drawn: true },
      { name: 'held', says: 'of what is held from the first row that all have', drawn: false },
    ],
    compute: (columns) => [groupAverage(columns, 'equal'), groupAverage(columns, 'held')],
  },
];
