import { catalogue } from '../catalogue/catalogue.js';
import type { Checked } from './checked.js';
import { childrenOf, fail, type Node } from './tree.js';

/** Bars that the values of a formula stand later than the rows they are given on; 0 for all but projections. */
export function aheadOf(tree: Checked): number {
  if (tree.kind === 'part') return aheadOf(tree.call);
  return tree.kind === 'call' ? (tree.entry.ahead?.(tree.settings) ?? 0) : 0;
}

/** @throws {FormulaError} where what is of bars to come does not stand alone, or by groups */
export function requireAlone(node: Node, isWhole = true): void {
  const isAhead = node.kind === 'call' && catalogue.get(node.name)?.ahead !== undefined;
  if (isAhead && !isWhole)
    fail(`\`${node.name}\` is of bars to come: it stands alone in its entry and goes into no other formula`, node);
  const each = isAhead && node.options.find(({ name }) => name === 'each');
  if (each) fail(`\`${node.name}\` goes on from the last bar; leave \`each\` out`, each.nameAt);
  for (const child of childrenOf(node)) requireAlone(child, isWhole && node.kind === 'part');
}
