import { reachOfWindow, type Reach } from '../windows/window.js';
import type { Checked } from './checked.js';

const NOTHING: Reach = { before: 0, after: 0 };

/**
 * Rows before and after its own that a value of a formula is made of, through all that it uses: on those rows alone it is
 * the same as on all.
 * @param reachOfEntry  the reach of an entry by its name
 * @returns             undefined where a value may depend on any row
 */
export function reachOf(tree: Checked, reachOfEntry: (name: string) => Reach | undefined): Reach | undefined {
  const of = (part: Checked) => reachOf(part, reachOfEntry);
  switch (tree.kind) {
    case 'number':
    case 'column':
    case 'word':
    case 'other':
      return NOTHING;
    case 'entry':
      return reachOfEntry(tree.name);
    case 'unary':
      return of(tree.operand);
    case 'binary':
      return widest([of(tree.left), of(tree.right)]);
    case 'part':
      return of(tree.call);
    case 'window':
      return sum(reachOfWindow(tree.settings.window!), widest([...tree.columns.values()].map(of)));
    case 'call': {
      const { entry, settings, columns, each, isWhole } = tree;
      if (each || isWhole) return undefined;
      return sum(entry.rowwise ? NOTHING : entry.reach?.(settings), widest(columns.map(of)));
    }
    case 'on':
      return undefined;
  }
}

function sum(a: Reach | undefined, b: Reach | undefined): Reach | undefined {
  return a && b && { before: a.before + b.before, after: a.after + b.after };
}

/** The reach of several together. */
export function widest(reaches: readonly (Reach | undefined)[]): Reach | undefined {
  let all: Reach | undefined = NOTHING;
  for (const reach of reaches)
    all = all && reach && { before: Math.max(all.before, reach.before), after: Math.max(all.after, reach.after) };
  return all;
}
