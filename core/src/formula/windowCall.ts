import { boundsOf, BLOCK_ROWS, type RowTimes } from '../windows/window.js';
import type { Settings } from '../catalogue/functionEntry.js';
import { windowPhrase } from '../catalogue/phrases.js';
import { windowFunction } from '../catalogue/windows.js';
import { ArgumentReader } from './argumentReader.js';
import type { Checked, Scope } from './checked.js';
import { fail, FormulaError, type Node, type Span } from './tree.js';

export const WINDOW_CALL = windowFunction.name;

/** Values that all windows of one call may hold together. */
const MOST_WORK = 100_000_000;

/** The call without its formula and its columns is read like that of any aggregate. */
const asAggregate = windowFunction;

/**
 * @param check  of the formulas within it
 * @throws {FormulaError} where the formula, its columns or its window are not right
 */
export function checkWindowCall(
  node: Extract<Node, { kind: 'call' }>,
  scope: Scope,
  text: string,
  check: (node: Node, scope: Scope, text: string) => Checked,
): Checked {
  if (scope.windowNames) return fail('a window inside a window is not possible; name the inner one as an entry', node);
  const [inner, ...rest] = node.args;
  if (!inner || inner.kind === 'quantity' || inner.kind === 'this' || inner.kind === 'all')
    return fail(`\`window\` needs a formula, a column and a window, as in \`${windowFunction.example}\``, node);
  const own = node.options.filter(({ name }) => Object.hasOwn(asAggregate.options, name));
  const given = node.options.filter(({ name }) => !Object.hasOwn(asAggregate.options, name));
  if (given.length === 0)
    return fail(`\`window\` needs to know what its values are called, as in \`${windowFunction.example}\``, node);
  const columns = new Map(given.map(({ name, value }) => [name, check(value, scope, text)]));
  const windowNames = new Set(columns.keys());
  const formula = check(inner, { ...scope, windowNames, columns: windowNames, entry: () => undefined }, text);
  const call = { ...node, args: [given[0].value, ...rest], options: own };
  const reader = new ArgumentReader(asAggregate, call, text);
  const settings = reader.settings();
  const wrong = asAggregate.refuse!(settings);
  if (wrong) return fail(wrong, node);
  const parts = [...columns.values()];
  const said = [...columns].map(([name, { phrase }]) => `${phrase} for ${name}`).join(' and ');
  return {
    kind: 'window',
    formula,
    columns,
    settings,
    at: { start: node.start, end: node.end },
    unit: formula.unit === 'truth' ? 'truth' : parts[0].unit,
    looksAhead: asAggregate.looksAhead!(settings) || parts.some(({ looksAhead }) => looksAhead) || formula.looksAhead,
    phrase: `${formula.phrase} over ${windowPhrase(settings.window!)}, with ${said}`,
  };
}

/**
 * Evaluates a formula over each window.
 * @param inner  what the formula comes to over the rows [first, end): its value at the last of them
 * @throws {FormulaError} where the windows together are too long
 */
export function overWindows(
  columns: readonly Float64Array[],
  { window, numbers }: Settings,
  times: RowTimes,
  at: Span,
  inner: (first: number, end: number) => number,
): Float64Array {
  const rows = times.time.length;
  const out = new Float64Array(rows);
  const firsts = new Int32Array(rows);
  const ends = new Int32Array(rows);
  const bounds = boundsOf(window!, rows, { ...times, progress: undefined });
  for (let from = 0; from < rows; from += BLOCK_ROWS) {
    const to = Math.min(rows, from + BLOCK_ROWS);
    bounds.fill(from, to, firsts.subarray(from, to), ends.subarray(from, to));
  }
  let work = 0;
  for (let t = 0; t < rows; t++) work += ends[t] - firsts[t];
  if (work > MOST_WORK)
    throw new FormulaError(
      'these windows are too long to work through one by one; take a shorter window or larger bars',
      at.start,
      at.end - at.start,
    );
  const least = Math.max(1, numbers.from ?? (window!.kind === 'bars' ? window!.bars : 1));
  for (let t = 0; t < rows; t++) {
    if (t % BLOCK_ROWS === 0) times.progress?.(t / rows);
    let valid = 0;
    for (let row = firsts[t]; row < ends[t] && valid < least; row++)
      if (columns.every((column) => column[row] - column[row] === 0)) valid++;
    out[t] = valid < least ? NaN : inner(firsts[t], ends[t]);
  }
  return out;
}
