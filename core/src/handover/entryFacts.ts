import type { Checked } from '../formula/checked.js';
import type { Plan } from '../formula/plan.js';
import type { Unit } from '../catalogue/units.js';
import { reachOfWindow } from '../windows/window.js';

/** What a line says of the price beside it: what a reader would want to be told of. */
export type LineRole = 'average' | 'upper' | 'lower' | 'volatility' | 'memory' | 'projection' | 'other';

/** What is known of a column that an entry gives, without its values. */
export interface EntryFacts {
  name: string;
  unit: Unit;
  /** In words: `mean of close over 20 bars`. */
  phrase: string;
  looksAhead: boolean;
  role: LineRole;
  /** Rows that an average is behind what it is of: the mean age of what is in it. NaN where that cannot be counted. */
  lag: number;
}

const AVERAGES = new Set(['mean', 'ema', 'wma', 'median']);
const VOLATILITIES = new Set(['stdev', 'volatility']);
/** Parts of functions that are the ends of a range about the price. */
const ENDS: Readonly<Record<string, LineRole>> = { upper: 'upper', lower: 'lower', high: 'upper', low: 'lower' };

/** Facts of each column that a plan gives, its own value first. */
export function entryFacts({ name, parts, unit, phrase, looksAhead, ahead, tree }: Plan): EntryFacts[] {
  const facts = { unit, phrase, looksAhead, lag: lagOf(tree) };
  if (parts.length === 0) return [{ ...facts, name, role: ahead > 0 ? 'projection' : roleOf(tree, unit) }];
  return parts.map((part, index): EntryFacts => {
    const role = ENDS[part.name] ?? (index === 0 ? roleOf(tree, unit) : 'other');
    return {
      ...{ ...facts, name: index === 0 ? name : `${name}.${part.name}`, unit: part.unit ?? unit },
      phrase: index === 0 ? phrase : `${phrase}, ${part.says}`,
      role: ahead > 0 ? 'projection' : role,
    };
  });
}

function roleOf(tree: Checked, unit: Unit): LineRole {
  if (tree.kind !== 'call') return 'other';
  const { name } = tree.entry;
  // an average of something else than a price says nothing of where the price stands
  if (AVERAGES.has(name)) return unit === 'price' ? 'average' : 'other';
  if (VOLATILITIES.has(name)) return unit === 'fraction' ? 'volatility' : 'other';
  return name === 'hurst' ? 'memory' : 'other';
}

/** Source: the mean age of the weights; (N - 1) / 2 of a mean of N, (N - 1) / 3 of a weighted one, (1 - f) / f of an exponential one. */
function lagOf(tree: Checked): number {
  if (tree.kind !== 'call') return NaN;
  const { window, numbers } = tree.settings;
  const reach = window && reachOfWindow(window);
  switch (tree.entry.name) {
    case 'mean':
    case 'median':
      return reach ? (reach.before + window.skip - reach.after) / 2 : NaN;
    case 'wma':
      return reach && reach.after === 0 && window.skip === 0 ? reach.before / 3 : NaN;
    case 'ema':
      if (numbers.factor > 0) return (1 - numbers.factor) / numbers.factor;
      return window?.kind === 'bars' ? (window.bars - 1) / 2 : NaN;
    default:
      return NaN;
  }
}
