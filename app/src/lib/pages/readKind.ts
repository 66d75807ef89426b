import { BarRuleError, parseBarRule, type BarKind } from '@jaunty-ledger/core';

/** How bars are cut; nothing where the rule is none. */
export function readKind(rule: string): BarKind | undefined {
  try {
    return parseBarRule(rule).kind;
  } catch (error) {
    if (!(error instanceof BarRuleError)) throw error;
    return undefined;
  }
}
