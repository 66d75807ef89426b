import { ArgumentError, BarRuleError, FormulaError } from '@jaunty-ledger/core';
import { Refusal, type ProblemCode } from '$lib/api/problems';
import { sentence } from '$lib/api/sentence';

const OF_ONE: readonly ProblemCode[] = [
  ...(['unknown-tape', 'invalid-formula', 'invalid-rule', 'too-many-bars', 'damaged-tape'] as const),
];

/** What is wrong with one tape alone, as a sentence, where work goes over many of them: the others stand. @throws what is not */
export function wrongWithOne(error: unknown): string {
  const isOfOne =
    error instanceof FormulaError ||
    error instanceof ArgumentError ||
    error instanceof BarRuleError ||
    (error instanceof Refusal && OF_ONE.includes(error.problem.code));
  if (!isOfOne) throw error;
  return sentence(error.message);
}
