import { averageFunctions } from './averages.js';
import { examineFunctions } from './examine.js';
import { compareFunctions } from './compare.js';
import type { FunctionEntry } from './functionEntry.js';
import { memoryFunctions } from './memory.js';
import { moveFunctions } from './moves.js';
import { projectionFunctions } from './projection.js';
import { rowwiseFunctions } from './rowwise.js';
import { tradeFunctions } from './trade.js';
import { windowFunctions } from './windows.js';

/** Every function of the notation. One exists when it has an entry here. */
export const catalogue: ReadonlyMap<string, FunctionEntry> = new Map(
  [
    ...moveFunctions,
    ...windowFunctions,
    ...averageFunctions,
    ...tradeFunctions,
    ...memoryFunctions,
    ...examineFunctions,
    ...compareFunctions,
    ...projectionFunctions,
    ...rowwiseFunctions,
  ].map((entry) => [entry.name, entry]),
);
