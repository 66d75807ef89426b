import { BarRuleError, parseBarRule, printBarRule, type BarRule, type Take } from '@jaunty-ledger/core';

/** A rule with some of its parts changed, in its canonical form. */
export const withParts = (rule: string, parts: Partial<BarRule>): string =>
  printBarRule({ ...parseBarRule(rule), ...parts });

/** Another value of a bar for one of the further columns. */
export function withTakeOf(rule: string, column: string, take: Take): string {
  const others = Object.entries(parseBarRule(rule).takes).filter(([name]) => name !== column);
  const own: [string, Take][] = take === 'last' ? [] : [[column, take]];
  return withParts(rule, { takes: Object.fromEntries([...others, ...own]) });
}

/** Another kind with the options that still have an effect. */
export function withKind(rule: string, kind: string): string {
  const options = rule
    .split(',')
    .slice(1)
    .map((part) => part.trim());
  const fits = options.filter((option) => isRule(`${kind}, ${option}`));
  return [kind, ...fits].join(', ');
}

function isRule(text: string): boolean {
  try {
    parseBarRule(text);
    return true;
  } catch (error) {
    if (!(error instanceof BarRuleError)) throw error;
    return false; // the option does not go with the kind
  }
}

/** Rules to choose from, by how they cut. */
export const RULE_CHOICES: readonly { by: string; says: string; rules: readonly string[] }[] = [
  {
    by: 'clock',
    says: 'a bar every',
    rules: ['10 seconds', '1 minute', '5 minutes', '15 minutes', '30 minutes', '1 hour', '2 hours'],
  },
  { by: 'calendar', says: 'a bar each', rules: ['1 day', '1 week', '1 month', '1 quarter', '1 year'] },
  { by: 'count', says: 'after so many', rules: ['100 trades', '500 trades', '2000 trades'] },
  { by: 'volume', says: 'after so much', rules: ['1000 units', '10000 units', '100000 units'] },
  { by: 'value', says: 'after a turnover of', rules: ['100000 value', '1000000 value'] },
  { by: 'range', says: 'at a height of', rules: ['range 0.1', 'range 0.25', 'range 1'] },
];
