import { change, cumulative, lag, lead, logReturn, rebase, simpleReturn, type Back } from '../returns/moves.js';
import { moveWorking } from '../working/moveWorking.js';
import { COLUMN_X, type FunctionEntry, type Settings } from './functionEntry.js';
import { moveOfX, unitOfX, type Unit } from './units.js';
import { stretchPhrase } from './phrases.js';

function move(
  entry: Pick<FunctionEntry, 'name' | 'sentence' | 'formula'> & {
    unit: (units: readonly Unit[]) => Unit;
    kernel: (x: Float64Array, back: Back) => Float64Array;
    preposition: string;
    /** What the value and the other one come to, for the working. */
    byHand: (value: number, base: number) => number;
    ahead?: boolean;
  },
): FunctionEntry {
  const { kernel, preposition, byHand, ahead, ...rest } = entry;
  return {
    ...rest,
    parameters: [COLUMN_X, { kind: 'back', name: 'back', says: 'how far back, in rows or time', default: 1 }],
    options: {},
    phrase: ([x], { back }) => {
      const isOne = 'bars' in back! && back.bars === 1;
      return `${entry.name} of ${x}${isOne ? '' : ` ${preposition} ${stretchPhrase(back!)}`}`;
    },
    example: `${entry.name}(close)`,
    definition: '5. Moves and returns',
    source: 'arithmetic',
    cost: 'O(1) a row',
    reach: ({ back }) => ('bars' in back! ? { before: back.bars, after: 0 } : undefined),
    working: moveWorking(byHand, { ahead }),
    compute: ([x], { back }: Settings, { time }) =>
      kernel(x, 'bars' in back! ? { rows: back.bars } : { ...back!, time }),
  };
}

const leadEntry: FunctionEntry = {
  ...move({
    name: 'lead',
    sentence: 'The value some rows ahead.',
    formula: 'x[t + k]',
    unit: unitOfX,
    kernel: (x, back) => lead(x, 'rows' in back ? back.rows : 0),
    byHand: (_, base) => base,
    ahead: true,
    preposition: 'by',
  }),
  refuse: ({ back }) => ('bars' in back! ? undefined : '`lead` looks ahead by rows, as in `lead(close, 3)`'),
  looksAhead: ({ back }) => 'bars' in back! && back.bars > 0,
  reach: ({ back }) => ('bars' in back! ? { before: 0, after: back.bars } : undefined),
};

export const moveFunctions: readonly FunctionEntry[] = [
  leadEntry,
  move({
    name: 'lag',
    sentence: 'The value some rows back, or the last one at or before some time back.',
    formula: 'x[t - k]',
    unit: unitOfX,
    kernel: lag,
    byHand: (_, base) => base,
    preposition: 'by',
  }),
  move({
    name: 'change',
    sentence: 'The value less the one some rows back.',
    formula: 'x[t] - x[t - k]',
    unit: moveOfX,
    kernel: change,
    byHand: (value, base) => value - base,
    preposition: 'over',
  }),
  move({
    name: 'return',
    sentence: 'The change as a share of the value it starts from.',
    formula: 'x[t] / x[t - k] - 1',
    unit: () => 'fraction',
    kernel: simpleReturn,
    byHand: (value, base) => value / base - 1,
    preposition: 'over',
  }),
  move({
    name: 'logreturn',
    sentence: 'The natural logarithm of the value over the one it starts from.',
    formula: 'ln(x[t] / x[t - k])',
    unit: () => 'fraction',
    kernel: logReturn,
    byHand: (value, base) => Math.log(value / base),
    preposition: 'over',
  }),
  {
    name: 'cumulative',
    sentence: 'The running sum of the valid values; a row without one shows the sum so far.',
    formula: 'x[0] + … + x[t]',
    example: 'cumulative(return(close))',
    definition: '5. Moves and returns',
    source: 'Ogita, Rump and Oishi 2005 (compensated sums)',
    cost: 'O(1) a row',
    unit: unitOfX,
    phrase: ([x]) => `running sum of ${x}`,
    parameters: [COLUMN_X],
    options: {},
    compute: ([x]) => cumulative(x),
  },
  {
    name: 'rebase',
    sentence: 'The values on a scale on which the first of them is 100, or what one says.',
    formula: '100 x[t] / first valid x',
    example: 'rebase(close, to: 100)',
    definition: '5. Moves and returns',
    source: 'arithmetic',
    cost: 'O(1) a row',
    unit: () => 'number',
    phrase: ([x], { numbers }) => `${x} rebased to ${numbers.to ?? 100}`,
    parameters: [COLUMN_X],
    options: { to: { kind: 'number', above: 0, max: 1e12, says: 'what the first value becomes' } },
    compute: ([x], { numbers }) => rebase(x, numbers.to ?? 100),
  },
];
