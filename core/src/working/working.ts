import type { CallWorking, Step } from '../catalogue/functionEntry.js';
import type { Checked, CheckedCall } from '../formula/checked.js';
import { needsFullWindow } from '../formula/compute.js';
import type { Work } from '../formula/evaluate.js';
import type { Plan } from '../formula/plan.js';
import { firstFullRow } from '../windows/shortStart.js';
import type { RowTimes } from '../windows/window.js';

/** How one value came about, so that it can be followed with a pocket calculator. */
export interface Working {
  /** In words: `mean of close over 20 bars`. */
  phrase: string;
  formula: string;
  /** The value as it is stored. */
  stored: number;
  /** The same worked out anew in the plainest way; undefined where that is the stored one itself. */
  recomputed: number | undefined;
  steps: Step[];
  rows: NonNullable<CallWorking['rows']>;
  fit: CallWorking['fit'];
}

/** The working of a plan's value at a row. */
export function workingOf(plan: Plan, work: Work, times: RowTimes, row: number): Working {
  const { tree } = plan;
  const base = {
    phrase: plan.phrase,
    formula: 'as it is written',
    stored: work.column(tree)[row],
    recomputed: undefined,
    steps: [],
    rows: { at: [], names: [], columns: [] },
    fit: undefined,
  };
  const shown = tree.kind === 'part' ? tree.call : tree;
  if (shown.kind !== 'call') return { ...base, steps: operandsOf(shown, work, row) };
  const working = { ...base, formula: shown.entry.formula, ...ofCall(shown, work, times, row) };
  // a part other than the first has its own value, not the one that the steps lead to
  return tree.kind === 'part' && tree.index > 0 ? { ...working, recomputed: undefined } : working;
}

/** What an operator was given. */
function operandsOf(tree: Checked, work: Work, row: number): Step[] {
  const given =
    tree.kind === 'binary'
      ? [tree.left, tree.right]
      : tree.kind === 'unary'
        ? [tree.operand]
        : tree.kind === 'window'
          ? [...tree.columns.values()]
          : [];
  return given.map((operand) => ({ says: operand.phrase, value: work.column(operand)[row] }));
}

function ofCall(
  { entry, settings, columns: trees, each }: CheckedCall,
  work: Work,
  times: RowTimes,
  row: number,
): CallWorking {
  const columns = trees.map((column) => work.column(column));
  const phrases = trees.map(({ phrase }) => phrase);
  // where a function restarts, a working over all rows would be another one's
  if (entry.working && !each) {
    const working = entry.working({ settings, columns, phrases, row, times });
    if (!needsFullWindow(settings, entry) || row >= firstFullRow(settings.window!, times, work.interval))
      return working;
    const says = 'missing: the window begins before the first row; `from: 1` takes the rows there are';
    return { rows: working.rows, steps: [{ says, value: NaN }] };
  }
  return { steps: phrases.map((says, index) => ({ says, value: columns[index][row] })) };
}
