import { BarRuleError, parseBarRule, printBarRule } from '@jaunty-ledger/core';
import type { Tape } from './tapes';

/** What of a tape a bar rule may ask for. */
export type RuleSource = Pick<Tape, 'kind' | 'columns'> & { numbers: readonly { name: string }[] };

/** A rule without what it asks of records that a tape does not have, so that its bars stand beside those of another. */
export function fittingRule(text: string, { kind, columns, numbers }: RuleSource): string {
  const rule = parseBarRule(text);
  const has = (name: string | undefined) => numbers.some((column) => column.name === name);
  return printBarRule({
    ...rule,
    side: columns.includes('side') ? rule.side : undefined,
    price: kind === 'quotes' ? rule.price : 'mid',
    take: kind === 'series' ? rule.take : 'last',
    takes: Object.fromEntries(Object.entries(rule.takes).filter(([name]) => has(name))),
    adjusted: has(rule.adjusted) ? rule.adjusted : undefined,
  });
}

/** The same where there is such a tape. What is no rule stays: whoever reads it says what is wrong. */
export function fittingOrSame(text: string, tape: RuleSource | undefined): string {
  try {
    return tape ? fittingRule(text, tape) : text;
  } catch (error) {
    if (!(error instanceof BarRuleError)) throw error;
    return text;
  }
}
