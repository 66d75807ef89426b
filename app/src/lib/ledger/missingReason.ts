import { numbersIn, wordsIn } from '@jaunty-ledger/core';
import type { Tape } from '$lib/api/tapes';

/** Columns that a tape without sizes has no values of. */
const OF_SIZES = ['volume', 'value', 'turnover', 'vwap'];

/**
 * Why an entry has no value in any row, as far as its formula and its tape tell, and what helps.
 * @param bars  of the tape, by the rule of the ledger
 */
export function missingReason(
  formula: string,
  tape: Pick<Tape, 'columns' | 'kind' | 'valueName'>,
  bars: number,
): string {
  const hasSizes = ['size', 'volume', 'value'].some((name) => tape.columns.includes(name));
  const names = wordsIn(formula);
  const unknown = OF_SIZES.find((name) => names.has(name));
  if (!hasSizes && unknown !== undefined)
    return `this tape has no sizes, so ${unknown} is missing. Use ${tape.valueName ?? 'close'}.`;
  const longest = Math.max(
    0,
    ...numbersIn(formula).flatMap(({ value, of }) => (of === 'bars' || of === 'bar' ? [value] : [])),
  );
  if (longest > bars)
    return `a window of ${longest.toLocaleString('en')} bars is longer than the ${bars.toLocaleString('en')} bars there are. Take a shorter one, or shorter bars.`;
  return 'no row has all the values it needs. Its working shows which are missing.';
}
